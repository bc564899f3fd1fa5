import * as pdfjs from 'pdfjs-dist';
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

pdfjs.GlobalWorkerOptions.workerSrc = workerUrl;

/** Opens a PDF of the server's. */
export const openProof = (url: string) => pdfjs.getDocument({ url, isEvalSupported: false }).promise;

export { pdfjs };
export type ProofDocument = pdfjs.PDFDocumentProxy;
export type ProofPage = pdfjs.PDFPageProxy;
