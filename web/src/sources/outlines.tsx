import type { SheetOutline, SourceContents } from '@tether/contract';
import { type Area, cellCount, FEW_CELLS, formatArea } from '@tether/core';
import { ChartDrawing } from './ChartPreview.tsx';
import type { Outline } from './SheetOutlines.tsx';

/** What a name or table object of a source offers on a sheet. */
interface NameOffer {
  name: string;
  area: Area;
  /** The sheet the name belongs to; null for one of the whole source. */
  sheet: string | null;
}

/** The names and table objects that lie on a sheet, as outlines, without those whose cells are outlined already. */
export function nameOutlines(
  contents: SourceContents,
  sheet: string,
  onChoose: (offer: NameOffer) => void,
  taken: readonly Area[] = [],
): Outline[] {
  const known = new Set(taken.map(formatArea));
  return namesOn(contents, sheet)
    .filter(({ area }) => !known.has(formatArea(area)))
    .map((offer) => ({
      key: `name ${offer.name}`,
      area: offer.area,
      // A few cells would lie under the labels of their neighbours; their names are told when they are taken.
      label: cellCount(offer.area) < FEW_CELLS ? null : offer.name,
      kind: 'offer' as const,
      onChoose: () => onChoose(offer),
    }));
}

function namesOn(contents: SourceContents, sheet: string): NameOffer[] {
  return [
    ...contents.tables
      .filter((table) => table.sheet === sheet)
      .map((table) => ({ name: table.name, area: table.area, sheet: null })),
    ...contents.names
      .filter((name) => name.area?.sheet.toLowerCase() === sheet.toLowerCase())
      .map((name) => ({ name: name.name, area: name.area!.area, sheet: name.sheet })),
  ];
}

/** The blocks of a sheet as outlines, without those that are no table and those whose area is outlined already. */
export function blockOutlines(
  sheet: SheetOutline,
  onChoose: (block: SheetOutline['blocks'][number]) => void,
  taken: readonly Area[] = [],
  waysOf?: (block: SheetOutline['blocks'][number]) => NonNullable<Outline['ways']>,
): Outline[] {
  const known = new Set(taken.map(formatArea));
  return sheet.blocks
    .filter(({ filled, area }) => filled > 3 && !known.has(formatArea(area)))
    .map((block) => ({
      key: formatArea(block.area),
      area: block.area,
      label: `Block ${formatArea(block.area)}`,
      kind: 'offer' as const,
      onChoose: () => onChoose(block),
      ...(waysOf ? { ways: waysOf(block) } : {}),
    }));
}

/** The charts of a sheet, drawn where they stand. */
export function chartOutlines(
  sourceId: string,
  contents: SourceContents,
  sheet: string,
  label: (name: string) => string,
  onChoose: (chart: SourceContents['charts'][number]) => void,
): Outline[] {
  return contents.charts.flatMap((chart) =>
    chart.sheet === sheet && chart.place
      ? [
          {
            key: chart.id,
            area: chart.place,
            label: label(chart.name),
            kind: 'offer' as const,
            onChoose: () => onChoose(chart),
            content: <ChartDrawing sourceId={sourceId} hash={contents.hash} chart={chart} />,
          },
        ]
      : [],
  );
}
