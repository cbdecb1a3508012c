import { getDocument, GlobalWorkerOptions, type PDFDocumentProxy } from 'pdfjs-dist'

GlobalWorkerOptions.workerPort = new Worker(new URL('pdfjs-dist/build/pdf.worker.min.mjs', import.meta.url), {
  type: 'module',
})

/** Opens a PDF to be drawn; nothing that is in it is run. */
export function openPdf(url: string): Promise<PDFDocumentProxy> {
  return getDocument({ url, isEvalSupported: false, enableXfa: false, useWasm: false }).promise
}

/** Draws a page as wide as its canvas is shown. */
export async function drawPage(pdf: PDFDocumentProxy, page: number, canvas: HTMLCanvasElement): Promise<void> {
  const sheet = await pdf.getPage(page)
  const width = (canvas.parentElement?.clientWidth || 240) * Math.max(2, devicePixelRatio)
  const viewport = sheet.getViewport({ scale: width / sheet.getViewport({ scale: 1 }).width })
  canvas.width = viewport.width
  canvas.height = viewport.height
  await sheet.render({ canvas, viewport }).promise
}
