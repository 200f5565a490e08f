declare module 'fast-formula-parser' {
  interface Position {
    sheet: string;
    row: number;
    col: number;
  }
  export default class FormulaParser {
    constructor(hooks: {
      onCell(cell: Position): unknown;
      onRange(range: {
        sheet: string;
        from: { row: number; col: number };
        to: { row: number; col: number };
      }): unknown[][];
    });
    parse(formula: string, position: Position): unknown;
  }
}
