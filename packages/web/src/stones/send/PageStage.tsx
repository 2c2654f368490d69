import { Button } from '@mantine/core';
import { Making } from '../../trials/Making.js';
import type { TrialMaker, TrialsView } from '../../trials/use-trials.js';
import { formatSeconds } from '../../ui/format.js';
import { StageChoice } from '../../ui/StageChoice.js';
import { loadTimeOf } from './load-time.js';
import { PagePreview } from './PagePreview.js';
import classes from './send.module.css';
import { type Ground, NETWORKS, type Network, setSendView, useSendView } from './send-view.js';
import { shownFile } from './shown-file.js';
import { type PageChoice, usePageChoice } from './use-snippet.js';

interface PageStageProps {
  readonly view: TrialsView;
  readonly maker: TrialMaker;
}

/** The very snippet in a page of its own: on any ground, as wide as a page or a phone, over a slow line. */
export function PageStage({ view, maker }: PageStageProps) {
  const { current } = view;
  const { ground, width, network } = useSendView();
  const choice = usePageChoice();
  const problem = maker.problem ?? current?.problem;
  return (
    <div className={classes.page} data-testid="stage">
      {choice.way ? (
        <PagePreview choice={choice} />
      ) : (
        <div className={classes.notMade}>
          {current?.progress ? (
            <Making trial={current} onCancel={() => maker.cancel(current.id)} />
          ) : (
            <>
              <span>{problem ?? 'The file of these settings is not made yet.'}</span>
              <Button color="deep.8" onClick={maker.makeNow}>
                Make it now
              </Button>
            </>
          )}
        </div>
      )}
      <div className={classes.looks}>
        <StageChoice<Ground>
          label="What is behind it"
          value={ground}
          onChange={(value) => setSendView({ ground: value })}
          choices={[
            ['white', 'White'],
            ['dark', 'Dark'],
            ['checkerboard', 'Checked'],
          ]}
        />
        <StageChoice
          label="How wide the page is"
          value={width}
          onChange={(value) => setSendView({ width: value })}
          choices={[
            ['real', 'Page'],
            ['phone', 'Phone'],
          ]}
        />
        <StageChoice
          label="Over a line of so many megabits a second"
          value={String(network)}
          onChange={(value) => setSendView({ network: Number(value) as Network })}
          choices={NETWORKS.map((one) => [String(one), one === 0 ? 'At once' : `${one} Mbit/s`])}
        />
        <LoadWords choice={choice} network={network} />
      </div>
    </div>
  );
}

/** When the first file of the page is seen over the chosen line. */
function LoadWords({ choice, network }: { choice: PageChoice; network: Network }) {
  const file = shownFile(choice);
  if (!file || network === 0) return null;
  const { firstSeconds, wholeSeconds } = loadTimeOf(file.figures, network);
  return (
    <span className={classes.loadWords}>
      seen after {formatSeconds(firstSeconds)}, all of it after {formatSeconds(wholeSeconds)}
    </span>
  );
}
