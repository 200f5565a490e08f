import type { Tether } from '@tether/contract';
import { DECK_LOOKS, type DeckLookName, SLIDE_SIZES } from '@tether/documents';
import { LookOfTables } from '../documents/LookOfTables.tsx';
import { PanelFold } from '../documents/PanelFold.tsx';
import { type Surface, useSurface } from '../documents/surface.ts';
import { CrowdingNotes } from '../page/panel/CrowdingNotes.tsx';
import { OutlineFold } from '../page/panel/Outline.tsx';
import { ChosenThings } from '../page/panel/ThingFields.tsx';
import { PageSurface } from '../page/surface/page-surface.ts';
import { ChoiceField } from '../ui/fields/ChoiceField.tsx';
import { LineField } from '../ui/fields/LineField.tsx';
import { NumberField } from '../ui/fields/NumberField.tsx';
import { SelectField } from '../ui/fields/SelectField.tsx';
import { Tick } from '../ui/fields/Tick.tsx';
import { deckOf } from './slides-kind.ts';

interface Props {
  surface: Surface;
  objects: readonly Tether[];
  isAllowed: boolean;
}

/** What is chosen on the slide that is shown, where objects have no room on it, and all that stands on it. */
export function ChosenOnSlide({ surface, objects, isAllowed }: Props) {
  if (!(surface instanceof PageSurface)) return null;
  return (
    <>
      <h2 className="sr-only">On the slide</h2>
      <ChosenThings surface={surface} isAllowed={isAllowed} />
      <CrowdingNotes surface={surface} objects={objects} />
      <OutlineFold surface={surface} objects={objects} />
    </>
  );
}

/** What is settled for a deck: its look, its proportion, what stands at the foot. */
export function SlidesSettingsFields({ surface, isAllowed }: Props) {
  return surface instanceof PageSurface ? <Fields surface={surface} isAllowed={isAllowed} /> : null;
}

function Fields({ surface, isAllowed }: { surface: PageSurface; isAllowed: boolean }) {
  const settings = useSurface(surface, () => deckOf(surface.pages.settings()));
  const set = (name: string, value: unknown) =>
    surface.pages.step(() => surface.pages.set(name, value));
  return (
    <>
      <PanelFold title="Look of the deck" note={settings.deckLook}>
        <div className="flex flex-col gap-2">
          <SelectField<DeckLookName>
            label="Look"
            value={settings.deckLook}
            options={(Object.keys(DECK_LOOKS) as DeckLookName[]).map((look) => ({
              value: look,
              label: DECK_LOOKS[look].name,
            }))}
            disabled={!isAllowed}
            onChange={(deckLook) => set('deckLook', deckLook)}
          />
          <ChoiceField
            label="Sides"
            value={settings.proportion}
            options={(Object.keys(SLIDE_SIZES) as (keyof typeof SLIDE_SIZES)[]).map((each) => ({
              value: each,
              label: each,
            }))}
            disabled={!isAllowed}
            onChange={(proportion) => set('proportion', proportion)}
          />
          <LineField
            label="At the foot"
            value={settings.foot}
            maxLength={200}
            isAllowed={isAllowed}
            onChange={(foot) => set('foot', foot)}
          />
          <Tick
            isOn={settings.hasNumbers}
            isDisabled={!isAllowed}
            onChange={(hasNumbers) => set('hasNumbers', hasNumbers)}
          >
            With numbers of slides
          </Tick>
        </div>
      </PanelFold>
      <PanelFold title="Grid" note={settings.grid === null ? 'none' : `${settings.grid} mm`}>
        <NumberField
          label="Lines every"
          value={settings.grid}
          unit="mm"
          min={0.5}
          max={200}
          placeholder="none"
          disabled={!isAllowed}
          onChange={(grid) => set('grid', grid)}
        />
      </PanelFold>
      <LookOfTables
        look={{ ...settings.look, tableStyle: DECK_LOOKS[settings.deckLook].tableStyle }}
        isAllowed={isAllowed}
        hasStyle={false}
        onChange={(look) => set('look', look)}
      />
    </>
  );
}
