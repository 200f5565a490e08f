import { describe, expect, it } from '@jest/globals';
import { inGrey, isLinesOnly } from './drawing-grey.ts';

const svg = (inner: string) =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80">${inner}</svg>`;
const grey = (inner: string) => inGrey(Buffer.from(svg(inner))).toString();

describe('a drawing in shades of grey', () => {
  // W3C Filter Effects Module Level 1, 13.1.2: 0.2126 of red, 0.7152 of green, 0.0722 of blue.
  it('has each colour as light as it is, however it is written', () => {
    expect(grey('<path fill="#ff0000"/>')).toBe(svg('<path fill="#363636"/>'));
    expect(grey("<path stroke='lime'/>")).toBe(svg("<path stroke='#b6b6b6'/>"));
    expect(grey('<path fill="rgb(0, 0, 255)"/>')).toBe(svg('<path fill="#121212"/>'));
    expect(grey('<stop stop-color="hsl(0, 100%, 50%)"/>')).toBe(
      svg('<stop stop-color="#363636"/>'),
    );
    expect(grey('<path fill="rgba(255,0,0,0.5)"/>')).toBe(svg('<path fill="rgba(54,54,54,0.5)"/>'));
    expect(grey('<path style="fill:#f00;stroke: blue"/>')).toBe(
      svg('<path style="fill:#363636;stroke: #121212"/>'),
    );
    expect(grey('<style>.deck{fill:red!important}</style>')).toBe(
      svg('<style>.deck{fill:#363636!important}</style>'),
    );
  });

  it('keeps what is no colour, and what is grey', () => {
    for (const inner of [
      '<path fill="none" stroke="currentColor"/>',
      '<path fill="url(#shade)" fill-opacity="0.5" stroke-width="3"/>',
      '<path fill="#808080" stroke="#000000"/>',
      '<text data-fill="red">fill: red is a colour</text>',
    ]) {
      expect(grey(inner)).toBe(svg(inner));
    }
  });

  it('is one of lines alone where no picture lies in it', () => {
    expect(isLinesOnly(Buffer.from(svg('<path fill="red"/>')))).toBe(true);
    expect(isLinesOnly(Buffer.from(svg('<image href="data:image/png;base64,"/>')))).toBe(false);
  });
});
