import { Tab, TabGroup, TabList } from '@headlessui/react';
import type { SheetOutline } from '@tether/contract';

/** The sheets of a source, one of them chosen. */
export function SheetTabs(props: {
  sheets: SheetOutline[];
  chosen: SheetOutline;
  onChoose: (sheet: string) => void;
}) {
  const { sheets, chosen, onChoose } = props;
  return (
    <TabGroup
      selectedIndex={sheets.indexOf(chosen)}
      onChange={(index) => onChoose(sheets[index]!.name)}
    >
      <TabList aria-label="Sheets" className="flex flex-wrap gap-1">
        {sheets.map(({ name, state }) => (
          <Tab
            key={name}
            data-sheet-tab={name}
            className="rounded-box border border-transparent px-2.5 py-1 data-hover:bg-white data-selected:border-hairline data-selected:bg-white data-selected:font-semibold"
          >
            {name}
            {state !== 'visible' && <span className="text-muted"> ({state})</span>}
          </Tab>
        ))}
      </TabList>
    </TabGroup>
  );
}
