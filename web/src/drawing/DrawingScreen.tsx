import type { ComponentProps } from 'react';
import { type PageParts, PagesScreen } from '../page/screen/PagesScreen.tsx';
import { DRAWING, settingsOf } from './drawing-kind.ts';
import { groundOf } from './ground.tsx';
import { SheetTabs } from './SheetTabs.tsx';

const PARTS: PageParts = {
  kind: DRAWING,
  tools: ['choose', 'text', 'line', 'rectangle', 'ellipse', 'arc', 'dimension'],
  head: (surface, isAllowed, zoom) => (
    <SheetTabs surface={surface} isAllowed={isAllowed}>
      {zoom}
    </SheetTabs>
  ),
  ground: groundOf,
  grid: (settings) => settingsOf(settings).grid,
};

/** A drawing, open: its sheets, with the rail of what can be drawn. */
export function DrawingScreen(props: Omit<ComponentProps<typeof PagesScreen>, 'parts'>) {
  return <PagesScreen {...props} parts={PARTS} />;
}
