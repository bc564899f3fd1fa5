/** The fonts that sheets are drawn with: fetched once, and kept by the browser for good. */
const loaded = new Set<string>();
const loading = new Map<string, Promise<void>>();

/** Where a font is asked for. */
export const fontPath = (key: string) => `/api/fonts/${encodeURIComponent(key)}`;

/** Whether all of some fonts are there. */
export const areThere = (keys: string[]) => keys.every((key) => loaded.has(key));

/** Has fonts fetched that aren't there. What fails is tried anew when it is asked for again. */
export async function load(keys: string[]): Promise<void> {
  await Promise.all(keys.filter((key) => !loaded.has(key)).map(one));
}

function one(key: string): Promise<void> {
  let known = loading.get(key);
  if (!known) {
    known = new FontFace(key, `url("${fontPath(key)}")`)
      .load()
      .then((font) => {
        document.fonts.add(font);
        loaded.add(key);
      })
      .finally(() => loading.delete(key));
    loading.set(key, known);
  }
  return known;
}
