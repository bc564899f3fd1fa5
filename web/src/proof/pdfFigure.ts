import * as pdfjs from 'pdfjs-dist';
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

pdfjs.GlobalWorkerOptions.workerSrc = workerUrl;

export { pdfjs };

/** The longer side of a figure's picture in pixels: sharp on a page twice as large as the screen's. */
const Longest = 2400;

/** Draws one page of a PDF that a manuscript includes. */
export async function drawFigure(data: ArrayBuffer, page: number): Promise<HTMLCanvasElement> {
  const task = pdfjs.getDocument({ data, isEvalSupported: false });
  try {
    const drawn = await (await task.promise).getPage(page);
    const { width, height } = drawn.getViewport({ scale: 1 });
    const viewport = drawn.getViewport({ scale: Longest / Math.max(width, height) });
    const canvas = document.createElement('canvas');
    canvas.width = Math.ceil(viewport.width);
    canvas.height = Math.ceil(viewport.height);
    await drawn.render({ canvas, viewport, background: 'transparent' }).promise;
    return canvas;
  } finally {
    await task.destroy();
  }
}
