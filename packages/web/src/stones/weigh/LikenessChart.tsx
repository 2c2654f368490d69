import type { TrialView } from '@muted-pond/core/api';
import { Chart, LinearScale, PointElement, ScatterController, Tooltip } from 'chart.js';
import { Scatter } from 'react-chartjs-2';
import { formatBytes } from '../../ui/format.js';
import { commonWidth, seenLikeness } from './seen-likeness.js';

Chart.register(ScatterController, PointElement, LinearScale, Tooltip);

const LILY = '#1f8a70';
const DEEP = '#16302e';

/**
 * Every finished trial: what it weighs, and how like the source it is at one size for all. The one that is
 * shown is larger.
 */
export function LikenessChart({ trials, shown }: { trials: readonly TrialView[]; shown: TrialView }) {
  const width = commonWidth(trials);
  const points = trials.flatMap((trial) => {
    const { id, letter, figures } = trial;
    const likeness = seenLikeness(trial, width);
    return figures && likeness !== null ? [{ id, letter, x: figures.bytes, y: likeness }] : [];
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
                  const { letter, x, y } = points[dataIndex];
                  return `${letter}: ${formatBytes(x)}, likeness ${y.toFixed(3)}`;
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
