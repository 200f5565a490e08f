import { expect, test } from '@jest/globals';
import { formatArea, parseReference, type Validation } from '@tether/core';
import { joinValidations } from './validations.ts';

const check = (
  reference: string,
  operands: string[],
  kind: Validation['kind'] = 'whole',
): Validation => {
  const parsed = parseReference(reference);
  if (!parsed.ok) throw new Error(reference);
  return {
    areas: [parsed.value.area],
    kind,
    comparison: 'between',
    operands,
    allowsBlank: true,
    message: null,
  };
};
const brief = (all: Validation[]) =>
  all.map(({ areas, operands }) => [areas.map(formatArea).join(' '), operands.join(' ')]);

test('checks that move along with their cells are one', () => {
  expect(
    brief(
      joinValidations([
        check('D5', ['0', 'C5']),
        check('D6', ['0', 'C6']),
        check('D7', ['0', '$C$5']),
        check('E5', ['0', 'D5']),
      ]),
    ),
  ).toEqual([
    ['D5:D6 E5', '0 C5'],
    ['D7', '0 $C$5'],
  ]);
});

test('cells side by side become a row, others stay apart', () => {
  expect(
    brief(
      joinValidations([check('A1', ['1', '9']), check('B1', ['1', '9']), check('D9', ['1', '9'])]),
    ),
  ).toEqual([['A1:B1 D9', '1 9']]);
});

test('different lists are different checks', () => {
  expect(
    joinValidations([check('A1', ['yes', 'no'], 'list'), check('A2', ['yes', 'maybe'], 'list')]),
  ).toHaveLength(2);
});
