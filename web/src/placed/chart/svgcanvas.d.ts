/** The part of the package that is used here; it brings no types of its own. */
declare module 'svgcanvas' {
  /** A drawing context that notes what is drawn as SVG. */
  export class Context {
    constructor(width: number, height: number);
    getSvg(): SVGSVGElement;
  }
}
