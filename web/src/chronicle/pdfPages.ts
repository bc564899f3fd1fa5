/** A PDF whose pages can be drawn. */
export interface OpenPdf {
  pages: { number: number; ratio: number }[];
  draw: (page: number, canvas: HTMLCanvasElement, width: number) => Promise<void>;
  close: () => void;
}

/** Opens a PDF. What draws it is large, and comes only when it is wanted. */
export async function openPdf(blob: Blob): Promise<OpenPdf> {
  const { pdfjs } = await import('../proof/pdfFigure');
  const task = pdfjs.getDocument({ data: await blob.arrayBuffer(), isEvalSupported: false });
  const document = await task.promise;
  const first = (await document.getPage(1)).getViewport({ scale: 1 });
  return {
    pages: Array.from({ length: document.numPages }, (_, i) => ({ number: i + 1, ratio: first.height / first.width })),
    draw: async (number, canvas, width) => {
      const page = await document.getPage(number);
      const viewport = page.getViewport({ scale: width / page.getViewport({ scale: 1 }).width });
      canvas.width = Math.ceil(viewport.width);
      canvas.height = Math.ceil(viewport.height);
      await page.render({ canvas, viewport }).promise;
    },
    close: () => void task.destroy(),
  };
}
