/** Width of the text on the page, in pixels: what a placed table has to fit into. A4 with margins of 25 mm. */
export const TEXT_WIDTH = 606;
