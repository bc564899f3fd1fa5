/** The cache that the service worker answers from when a font is asked for. */
export const FontCache = 'young-folio-fonts';
