import type { DocumentDetail } from '@tether/contract';
import { PIXELS_PER_MM, sheetSize, type TableFace } from '@tether/core';
import type { ReportSettings } from '@tether/documents';
import { type Editor, EditorContent, useEditorState } from '@tiptap/react';
import { type CSSProperties, useEffect, useMemo } from 'react';
import type { Dressings } from '../documents/object/dressings.ts';
import { useLatest } from '../ui/useLatest.ts';
import { sheetsOf, widest } from './pages/orientation.ts';
import type { PageFlow } from './pages/page-flow.ts';
import { placesOf, Sheets } from './pages/Sheets.tsx';
import { usePages } from './pages/usePages.ts';
import { ReportContext } from './ReportContext.tsx';
import { pressOnPaper } from './text/blocks/press-on-paper.ts';
import { readSettings } from './text/shared/report-document.ts';

/** The text in its editor on the sheets of paper that it is broken into. */
export function OnSheets(props: {
  saved: Pick<DocumentDetail, 'id' | 'name'>;
  dressings: Dressings;
  editor: Editor;
  flow: PageFlow;
  faces: Map<string, TableFace>;
  gap: number;
  scale: number;
  onWidth: ((width: number) => void) | undefined;
}) {
  const { saved, editor, flow, faces, dressings, gap, scale, onWidth } = props;
  const said = useEditorState({
    editor,
    selector: (now) => JSON.stringify(readSettings(now.editor)),
  });
  const settings = useMemo(() => JSON.parse(said) as ReportSettings, [said]);
  const sheet = useMemo(() => sheetSize(settings.paper), [settings.paper]);
  const { margins } = settings.paper;
  const { sheets: turned } = usePages(flow);
  const sheets = useMemo(() => sheetsOf(settings.paper), [settings.paper]);
  const places = placesOf(sheets, turned, gap);
  const width = widest(sheets, turned);
  const lowest = places.at(-1)!;
  const height = lowest.top + lowest.height;
  useEffect(() => {
    flow.setPaper(settings.paper, gap);
  }, [flow, settings.paper, gap]);
  const onWidthNow = useLatest(onWidth);
  useEffect(() => onWidthNow.current?.(width), [width, onWidthNow]);
  const around = useMemo(
    () => ({ id: saved.id, settings, sheet, flow, faces, dressings }),
    [saved.id, settings, sheet, flow, faces, dressings],
  );
  const side = (millimetres: number) => millimetres * PIXELS_PER_MM;
  return (
    <ReportContext.Provider value={around}>
      <div
        className="mx-auto"
        style={{
          width: width * scale,
          height: height * scale,
        }}
      >
        {/* biome-ignore lint/a11y/noStaticElementInteractions: the text itself has the keys; this is for the mouse alone */}
        <div
          className="relative"
          onMouseDown={({ nativeEvent }) => pressOnPaper(editor.view, nativeEvent)}
          style={{
            width,
            height,
            ...(scale === 1
              ? {}
              : {
                  transform: `scale(${scale})`,
                  transformOrigin: '0 0',
                  '--paper-scale': Math.min(1, scale),
                }),
          }}
        >
          <Sheets
            documentId={saved.id}
            name={saved.name}
            settings={settings}
            sheets={sheets}
            turned={turned}
            gap={gap}
          />
          <div
            className="relative"
            data-paper
            style={{
              paddingTop: side(margins.top),
              paddingLeft: side(margins.left),
              paddingRight: side(margins.right),
              ...({ '--page-head': `${side(margins.top)}px` } as CSSProperties),
            }}
          >
            <div lang={settings.language}>
              <EditorContent editor={editor} spellCheck />
            </div>
          </div>
        </div>
      </div>
    </ReportContext.Provider>
  );
}
