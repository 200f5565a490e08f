import DOMPurify from 'dompurify';

/** What a drawing may point at: a part of itself, or a picture within it. */
const OWN = /^\s*(#|data:image\/(png|jpeg|webp|gif);)/i;

DOMPurify.addHook('uponSanitizeAttribute', (_element, attribute) => {
  const name = attribute.attrName.slice(attribute.attrName.indexOf(':') + 1);
  if ((name === 'href' || name === 'src') && !OWN.test(attribute.attrValue)) {
    attribute.keepAttr = false;
  }
});

/** An SVG without anything that is no drawing: scripts, pages, links. As it came where nothing of a drawing is in it. */
export function cleanDrawing(words: string): string {
  const body: Node = DOMPurify.sanitize(words, {
    USE_PROFILES: { svg: true, svgFilters: true },
    FORBID_TAGS: ['animate', 'animateMotion', 'animateTransform', 'set'],
    RETURN_DOM: true,
  });
  const drawing = body instanceof Element ? body.querySelector('svg') : null;
  return drawing ? new XMLSerializer().serializeToString(drawing) : words;
}
