// @vitest-environment jsdom
import type { TrialView } from '@muted-pond/core/api';
import { screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { show } from '../testing/screen.js';
import { LikenessChart } from './LikenessChart.js';

/** What the chart is handed; jsdom has no canvas to draw it on. */
const drawn = vi.hoisted(() => ({ data: null as { x: number; y: number; name: string }[] | null }));
vi.mock('react-chartjs-2', () => ({
  Scatter: ({
    data,
    'aria-label': label,
  }: {
    data: { datasets: { data: never }[] };
    'aria-label': string;
  }) => {
    drawn.data = data.datasets[0].data;
    return <div role="img" aria-label={label} />;
  },
}));

const trial = (letter: string, bytes: number, value: number | null): TrialView =>
  ({
    ...{ id: letter, letter, state: 'done', seen: { width: 480, value } },
    figures: { bytes, width: 480, likeness: value ?? 0.5 },
  }) as unknown as TrialView;

it('shows each trial whose likeness is known, by its weight', () => {
  const trials = [trial('A', 40_000, 0.95), trial('B', 90_000, 0.98), trial('C', 70_000, null)];
  show(<LikenessChart trials={trials} shown={trials[1]} />);
  expect(screen.getByRole('img', { name: 'Weight and likeness of 2 trials' })).toBeDefined();
  expect(drawn.data).toMatchObject([
    { name: 'A', x: 40_000, y: 0.95 },
    { name: 'B', x: 90_000, y: 0.98 },
  ]);
});

it('says that it is being measured as long as nothing is known, instead of axes without a point', () => {
  const trials = [trial('A', 40_000, null)];
  show(<LikenessChart trials={trials} shown={trials[0]} />);
  expect(screen.queryByRole('img')).toBeNull();
  expect(screen.getByText(/Being measured/)).toBeDefined();
});
