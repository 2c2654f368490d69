import type { FontFace } from '@muted-pond/core/dress';
import { createTextEngine, type SvgLibrary, type TextEngine } from '@muted-pond/core/render';
import { initWasm, Resvg } from '@resvg/resvg-wasm';
import libraryUrl from '@resvg/resvg-wasm/index_bg.wasm?url';
import { fetchWhole } from '../api/fetch-whole.js';
import { fontFileUrl, fontsUrl, fontUrl } from '../api/frame-urls.js';

let opening: Promise<SvgLibrary> | null = null;

/** The library that draws letters, fetched when the first ones are drawn. */
function openLibrary(): Promise<SvgLibrary> {
  opening ??= initWasm(fetch(libraryUrl)).then(() => Resvg as unknown as SvgLibrary);
  opening.catch(() => {
    opening = null;
  });
  return opening;
}

const GONE = 'A font cannot be fetched. Check the connection, then try again.';

/** The server's fonts, each fetched once. */
export function fetchedTextEngine(): TextEngine {
  const fetched = new Map<string, Promise<unknown>>();
  function once<Result>(key: string, make: () => Promise<Result>): Promise<Result> {
    const there = (fetched.get(key) as Promise<Result> | undefined) ?? make();
    fetched.set(key, there);
    there.catch(() => fetched.delete(key));
    return there;
  }
  const json = <Result>(url: string) =>
    once<Result>(url, async () => (await fetchWhole(url, GONE)).json() as Promise<Result>);
  return createTextEngine(openLibrary, {
    async faces(own) {
      const read = await Promise.all(own.map((hash) => json<FontFace>(fontUrl(hash))));
      return [...read, ...(await json<readonly FontFace[]>(fontsUrl))];
    },
    bytes: (id) =>
      once(id, async () => new Uint8Array(await (await fetchWhole(fontFileUrl(id), GONE)).arrayBuffer())),
  });
}
