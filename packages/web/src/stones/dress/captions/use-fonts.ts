import { type Caption, chooseFonts, FONT_IDS, FONTS, type FontFace, isOwnFont } from '@muted-pond/core/dress';
import { useQueries, useQuery } from '@tanstack/react-query';
import { callApi } from '../../../api/client.js';
import { fontsUrl, fontUrl } from '../../../api/frame-urls.js';
import { useDressPart } from '../use-dress.js';

const path = (url: string) => url.replace('/api/', '');

/** The fonts that ship, and those of one's own that captions of this piece use. */
export function useFonts(): readonly FontFace[] {
  const captions = useDressPart('captions');
  const own = [...new Set(captions.map(({ style }) => style.font).filter(isOwnFont))];
  const shipped = useQuery({
    queryKey: ['fonts'],
    queryFn: () => callApi<readonly FontFace[]>('GET', path(fontsUrl)),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const ownFaces = useQueries({
    queries: own.map((hash) => ({
      queryKey: ['fonts', hash],
      queryFn: () => callApi<FontFace>('GET', path(fontUrl(hash))),
      staleTime: Number.POSITIVE_INFINITY,
    })),
  });
  return [...ownFaces.flatMap(({ data }) => data ?? []), ...(shipped.data ?? [])];
}

/** Letters of a caption that no font has, each once. */
export function useMissingLetters({ text, style }: Caption): readonly string[] {
  const faces = useFonts();
  return faces.length === 0 ? [] : chooseFonts(text, style.font, faces).missing;
}

/** What each font is called, for choosing. */
export function fontLabel({ id, family }: FontFace): string {
  const shipped = FONT_IDS.find((one) => one === id);
  return shipped ? FONTS[shipped].label : family;
}
