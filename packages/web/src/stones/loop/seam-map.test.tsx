// @vitest-environment jsdom
import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { FAULT_HERE } from '../../seam/seam-words.js';
import type { DrawWay } from '../../stage/draw.js';
import { SeamMap, valueAt } from './SeamMap.js';
import type { SeamNow } from './seam-now.js';

const way = (part: Partial<DrawWay> = {}): DrawWay => ({
  ...{ takeSize: { width: 400, height: 200 }, part: { x: 0, y: 0, width: 400, height: 200 } },
  ...{ turn: 0, mirror: false, matte: 'transparent', ...part },
});
/** Most is seen in the third block of the second row. */
const seam = (part: Partial<SeamNow> = {}): SeamNow => ({
  ...{ score: 40, fault: 'ghost', led: null, isWoven: false, isStale: false },
  map: { columns: 4, rows: 2, values: [0, 0, 0, 0, 0, 0.1, 1, 0.2] },
  ...part,
});

describe('where a joint is seen', () => {
  it('lies softly between the blocks, and goes on as it is beyond their middles', () => {
    const { map } = seam();
    expect(valueAt(map, 2.5 / 4, 0.75)).toBe(1);
    expect(valueAt(map, 3 / 4, 0.75)).toBeCloseTo(0.6, 6);
    expect(valueAt(map, 2.5 / 4, 0.5)).toBeCloseTo(0.5, 6);
    expect(valueAt(map, 1, 1)).toBeCloseTo(0.2, 6);
    expect(valueAt(map, 0, 0)).toBe(0);
  });

  const labelAt = (shown: SeamNow, by: DrawWay) => {
    const { container, unmount } = render(<SeamMap seam={shown} words="here" way={by} />);
    const { left, top } = (container.querySelector('span') as HTMLElement).style;
    unmount();
    return [Number.parseFloat(left), Number.parseFloat(top)];
  };

  it('is named there, on the picture as it is cropped, turned and mirrored', () => {
    expect(labelAt(seam(), way())).toEqual([62.5, 75]);
    expect(labelAt(seam(), way({ mirror: true }))).toEqual([37.5, 75]);
    expect(labelAt(seam(), way({ turn: 90 }))).toEqual([25, 62.5]);
    expect(labelAt(seam(), way({ part: { x: 200, y: 100, width: 200, height: 100 } }))).toEqual([25, 50]);
    // What was woven was measured as it is shown.
    expect(labelAt(seam({ isWoven: true }), way({ mirror: true }))).toEqual([62.5, 75]);
  });

  it('stays on the picture where the worst place is cropped off', () => {
    const [left, top] = labelAt(seam(), way({ part: { x: 0, y: 0, width: 100, height: 100 } }));
    expect([left, top]).toEqual([98, 94]);
  });

  it('has a name that says what is seen', () => {
    render(<SeamMap seam={seam({ fault: 'jump' })} words={FAULT_HERE.jump} way={way()} />);
    expect(screen.getByRole('img', { name: 'Map of the joint: the picture leaps here' })).toBeDefined();
  });
});
