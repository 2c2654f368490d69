import { fileForm } from '@muted-pond/core/files';
import { CHECKERBOARD, escapeHtml, fileUrl, pageOf } from '@muted-pond/core/pages';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { fetchBytes } from '../../api/client.js';
import { sentenceOf } from '../../ui/sentence.js';
import { dataUrlOf } from './data-url.js';
import type { KindFile } from './kind-files.js';
import { loadTimeOf } from './load-time.js';
import classes from './send.module.css';
import { type Ground, useSendView } from './send-view.js';
import { shownFile } from './shown-file.js';
import type { PageChoice } from './use-snippet.js';

const GROUND_STYLES: Record<Ground, string> = {
  white: '#ffffff',
  dark: '#16211f',
  checkerboard: CHECKERBOARD,
};

/** Nothing but the files inside it may be shown, and nothing is run. */
const POLICY =
  '<meta http-equiv="Content-Security-Policy" content="default-src \'none\'; img-src data:; media-src data:; style-src \'unsafe-inline\'">\n';

/** The snippet, playing in a frame that can reach nothing: it carries its files inside. */
export function PagePreview({ choice }: { choice: PageChoice }) {
  const { ground, width, network } = useSendView();
  const { sent, about } = choice;
  const words = choice.snippet();
  // Only what the snippet names is fetched.
  const inside = useFilesInside(sent.filter(({ name }) => words.includes(escapeHtml(fileUrl(name)))));
  const shown = shownFile(choice);
  const waitMs = shown && network > 0 ? loadTimeOf(shown.figures, network).firstSeconds * 1000 : 0;
  const snippet = inside.data ? choice.snippet(inside.data) : '';
  const isArrived = useArrived(`${shown?.trial.id} ${network}`, waitMs);
  if (inside.error) {
    return (
      <p className={classes.notMade} role="alert">
        {sentenceOf(inside.error)}
      </p>
    );
  }
  return (
    <iframe
      // Movies play by themselves only where scripts may run; the page’s own policy lets none.
      sandbox="allow-scripts"
      title="The page as it will be"
      className={width === 'phone' ? classes.phone : classes.frame}
      srcDoc={pageOf({
        title: about,
        body: isArrived ? snippet : '',
        ground: GROUND_STYLES[ground],
        head: POLICY,
      })}
    />
  );
}

/** The addresses of finished files with all their bytes, by name. */
function useFilesInside(files: readonly KindFile[]) {
  return useQuery({
    queryKey: ['files-inside', files.map(({ trial, name }) => [trial.id, name])],
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    enabled: files.length > 0,
    queryFn: async () => {
      const urls = await Promise.all(
        files.map(async ({ trial, name }) => {
          const bytes = await fetchBytes(`trials/${trial.id}/file`);
          return [name, await dataUrlOf(bytes, fileForm(trial.recipe.weigh).mime)] as const;
        }),
      );
      return new Map(urls);
    },
  });
}

/** Whether as much has come over the line as the first picture takes. */
function useArrived(what: string, waitMs: number): boolean {
  const [arrived, setArrived] = useState<string | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setArrived(what), waitMs);
    return () => clearTimeout(timer);
  }, [what, waitMs]);
  return waitMs === 0 || arrived === what;
}
