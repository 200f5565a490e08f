/** A sheet as it lies at the upper left corner of its page, in CSS pixels. */
interface Sheet {
  width: number;
  height: number;
}

const POINTS_PER_PIXEL = 72 / 96;
/** Rounding of pages to whole points is no other size. */
const SAME_POINTS = 2;

/**
 * A PDF with every page cut to its sheet: those of both orientations are printed on paper that holds either. Pages that are
 * as large as their sheets, and all where there are not as many sheets as pages, stay as they are.
 */
export async function cutToSheets(bytes: Buffer, sheets: readonly Sheet[]): Promise<Buffer> {
  const isUniform = sheets.every(
    ({ width, height }) =>
      Math.abs(width - sheets[0]!.width) < 1 && Math.abs(height - sheets[0]!.height) < 1,
  );
  if (isUniform) return bytes;
  // Only documents with sections need it.
  const { PDFDocument } = await import('pdf-lib');
  const document = await PDFDocument.load(bytes, { updateMetadata: false });
  const pages = document.getPages();
  if (pages.length !== sheets.length) return bytes;
  pages.forEach((page, index) => {
    const { width, height } = page.getSize();
    const { width: across, height: down } = sheets[index]!;
    const [wanted, high] = [across * POINTS_PER_PIXEL, down * POINTS_PER_PIXEL];
    if (width - wanted < SAME_POINTS && height - high < SAME_POINTS) return;
    // A page is measured from its lower left corner.
    page.setMediaBox(0, height - high, wanted, high);
    page.setCropBox(0, height - high, wanted, high);
  });
  return Buffer.from(await document.save());
}
