import type { TrialView } from '@muted-pond/core/api';
import {
  Chart,
  LinearScale,
  LogarithmicScale,
  type Plugin,
  PointElement,
  ScatterController,
  Tooltip,
} from 'chart.js';
import { Scatter } from 'react-chartjs-2';
import { formatBytes } from '../ui/format.js';
import { commonWidth, seenLikeness } from './seen-likeness.js';
import classes from './trials.module.css';

Chart.register(ScatterController, PointElement, LinearScale, LogarithmicScale, Tooltip);

const LILY = '#1f8a70';
const DEEP = '#16302e';

/** Heaviest and lightest this many times apart are told apart better in equal ratios. */
const FAR_APART = 6;

/** 1, 2 or 5 and nothing but zeros: what is written at an axis of equal ratios. */
function isRound(value: number): boolean {
  const lead = value / 10 ** Math.floor(Math.log10(value));
  return [1, 2, 5].includes(Math.round(lead * 100) / 100);
}

interface NamedPoint {
  readonly id: string;
  readonly name: string;
  readonly x: number;
  readonly y: number;
}

/** Writes each point's name beside it; one that would lie on another goes to the other side, or is left out. */
const NAMES: Plugin<'scatter'> = {
  id: 'names',
  afterDatasetsDraw(chart) {
    const { ctx, data, chartArea } = chart;
    const taken: { x: number; y: number; width: number }[] = [];
    ctx.save();
    ctx.font = '11px "Instrument Sans Variable", sans-serif';
    ctx.fillStyle = DEEP;
    ctx.textBaseline = 'middle';
    for (const [i, point] of chart.getDatasetMeta(0).data.entries()) {
      const { name } = data.datasets[0].data[i] as unknown as NamedPoint;
      const { width } = ctx.measureText(name);
      const sides = [point.x + 8, point.x - 8 - width];
      const places = [0, -9, 9].flatMap((down) => sides.map((x) => ({ x, y: point.y + down })));
      const free = places.find(
        ({ x, y }) =>
          x >= chartArea.left &&
          x + width <= chartArea.right &&
          taken.every(
            (other) => Math.abs(other.y - y) > 10 || x > other.x + other.width + 2 || x + width + 2 < other.x,
          ),
      );
      if (free === undefined) continue;
      taken.push({ ...free, width });
      ctx.fillText(name, free.x, free.y);
    }
    ctx.restore();
  },
};

interface LikenessChartProps {
  readonly trials: readonly TrialView[];
  readonly shown: TrialView;
  /** What a point is called; its letter by default. */
  readonly nameOf?: (trial: TrialView) => string;
  /** px */
  readonly height?: number;
}

const letterOf = ({ letter }: TrialView) => letter;

/**
 * Every finished trial: what it weighs, and how like the source it is at one size for all. The one that is
 * shown is larger.
 */
export function LikenessChart({ trials, shown, nameOf = letterOf, height = 118 }: LikenessChartProps) {
  const width = commonWidth(trials);
  const points = trials.flatMap((trial) => {
    const { id, figures } = trial;
    const likeness = seenLikeness(trial, width);
    return figures && likeness !== null ? [{ id, name: nameOf(trial), x: figures.bytes, y: likeness }] : [];
  });
  if (points.length === 0) {
    return (
      <p className={classes.unmeasured} style={{ height }}>
        Being measured: each file beside its source, all at one size.
      </p>
    );
  }
  const weights = points.map(({ x }) => x);
  const isFarApart = Math.max(...weights) > Math.min(...weights) * FAR_APART;
  const isShown = (index: number) => points[index]?.id === shown.id;
  return (
    <div style={{ position: 'relative', height }}>
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
        plugins={[NAMES]}
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
              type: isFarApart ? 'logarithmic' : 'linear',
              border: { display: false },
              grid: { color: '#cfd9ce' },
              ticks: {
                maxTicksLimit: 4,
                autoSkipPadding: 24,
                color: '#5b716c',
                callback: (value) =>
                  isFarApart && !isRound(Number(value)) ? '' : formatBytes(Math.round(Number(value))),
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
