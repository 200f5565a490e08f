import { Mark } from '@tiptap/core';

/** Letters below the line, as in chemical formulas. */
export const Subscript = Mark.create({
  name: 'subscript',
  excludes: 'subscript superscript',
  parseHTML: () => [{ tag: 'sub' }],
  renderHTML: () => ['sub', 0],
});

/** Letters above the line, as in powers and units. */
export const Superscript = Mark.create({
  name: 'superscript',
  excludes: 'subscript superscript',
  parseHTML: () => [{ tag: 'sup' }],
  renderHTML: () => ['sup', 0],
});
