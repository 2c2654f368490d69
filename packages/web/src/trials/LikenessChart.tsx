import type { TrialView } from '@muted-pond/core/api';
import { Chart, LinearScale, PointElement, ScatterController, Tooltip } from 'chart.js';
import { Scatter } from 'react-chartjs-2';
import { formatBytes } from '../ui/format.js';
import { commonWidth, seenLikeness } from './seen-likeness.js';

Chart.register(ScatterController, PointElement, LinearScale, Tooltip);

const LILY = '#1f8a70';
const DEEP = '#16302e';

interface LikenessChartProps {
  readonly trials: readonly TrialView[];
  readonly shown: TrialView;
  /** What a point is called; its letter by default. */
  readonly nameOf?: (trial: TrialView) => string;
}

const letterOf = ({ letter }: TrialView) => letter;

/**
 * Every finished trial: what it weighs, and how like the source it is at one size for all. The one that is
 * shown is larger.
 */
export function LikenessChart({ trials, shown, nameOf = letterOf }: LikenessChartProps) {
  const width = commonWidth(trials);
  const points = trials.flatMap((trial) => {
    const { id, figures } = trial;
    const likeness = seenLikeness(trial, width);
    return figures && likeness !== null ? [{ id, name: nameOf(trial), x: figures.bytes, y: likeness }] : [];
  });
  const isShown = (index: number) => points[index]?.id === shown.id;
  return (
    <div style={{ position: 'relative', height: 118 }}>
      <Scatter
        aria-label={`Weight and likeness of ${points.length} trials`}
        data={{
          datasets: [
            {
              data: points,
              pointBackgroundColor: points.map((_, i) => (isShown(i) ? DEEP : LILY)),
              pointBorderColor: '#ffffff',
              pointRadius: points.map((_, i) => (isShown(i) ? 6 : 4)),
            },
          ],
        }}
        options={{
          animation: false,
          maintainAspectRatio: false,
          plugins: {
            tooltip: {
              displayColors: false,
              callbacks: {
                label: ({ dataIndex }) => {
                  const { name, x, y } = points[dataIndex];
                  return `${name}: ${formatBytes(x)}, likeness ${y.toFixed(3)}`;
                },
              },
            },
          },
          scales: {
            x: {
              border: { display: false },
              grid: { color: '#cfd9ce' },
              ticks: {
                maxTicksLimit: 5,
                color: '#5b716c',
                callback: (value) => formatBytes(Math.round(Number(value))),
              },
            },
            y: {
              // Nothing is liker than alike.
              max: 1,
              border: { display: false },
              grid: { color: '#cfd9ce' },
              ticks: { maxTicksLimit: 4, color: '#5b716c', callback: (value) => Number(value).toFixed(3) },
            },
          },
        }}
      />
    </div>
  );
}
