import { formatArea, type SheetRules, type Validation } from '@tether/core';

/** What a sheet says about itself beside its cells, where it says anything. */
export function SheetRulesList({ sheet, rules }: { sheet: string; rules: SheetRules }) {
  const { protection, validations, conditions } = rules;
  const lines = [
    ...(protection.isProtected
      ? [
          protection.hasPassword
            ? 'Protected against changes, with a password.'
            : 'Protected against changes.',
        ]
      : []),
    ...(conditions.count > 0
      ? [
          `${conditions.count} conditional ${conditions.count === 1 ? 'format' : 'formats'}, shown as the source shows them.`,
        ]
      : []),
  ];
  if (lines.length === 0 && validations.length === 0 && conditions.unknown.length === 0)
    return null;
  return (
    <section aria-labelledby="sheet-rules">
      <h2 id="sheet-rules" className="text-[15px] font-semibold">
        Rules of {sheet}
      </h2>
      <ul className="flex flex-col gap-1">
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {conditions.unknown.length > 0 && (
          <li>
            Not followed in conditional formats:{' '}
            <span className="font-mono text-[12px]">{conditions.unknown.join(', ')}</span>
          </li>
        )}
        {validations.slice(0, 12).map((validation) => (
          <li key={JSON.stringify(validation)}>
            <span className="font-mono text-[12px]">
              {validation.areas.slice(0, 3).map(formatArea).join(', ')}
              {validation.areas.length > 3 ? ' …' : ''}
            </span>{' '}
            {wordsOf(validation)}
          </li>
        ))}
        {validations.length > 12 && (
          <li className="text-muted">and {validations.length - 12} more checks on entries</li>
        )}
      </ul>
    </section>
  );
}

const KINDS: Record<Validation['kind'], string> = {
  whole: 'a whole number',
  decimal: 'a number',
  list: 'one of',
  date: 'a date',
  time: 'a time',
  textLength: 'a text whose length is',
  custom: 'what fits',
  any: 'anything',
};
const COMPARISONS: Record<string, string> = {
  between: 'between',
  notBetween: 'not between',
  equal: 'equal to',
  notEqual: 'other than',
  greaterThan: 'above',
  lessThan: 'below',
  greaterThanOrEqual: 'at least',
  lessThanOrEqual: 'at most',
};

/** `takes a whole number between 0 and C5` */
function wordsOf({ kind, comparison, operands }: Validation): string {
  if (kind === 'any' || kind === 'list' || kind === 'custom') {
    return `takes ${KINDS[kind]} ${operands.join(', ')}`.trim();
  }
  const [first = '', second] = operands;
  const range = second === undefined ? first : `${first} and ${second}`;
  return `takes ${KINDS[kind]} ${COMPARISONS[comparison] ?? comparison} ${range}`;
}
