import type { FitKind, FitLeg, FitModel, FitSettings } from './fit.js';

/** How much is given up when nothing more can be: shares of the best. */
const LEAST_WIDTH = 0.2;
const SMALLEST_PX = 48;
const SLOWEST = 5;

/** What every kind gives up of size and rate. */
function ends(best: FitSettings) {
  return {
    slow: Math.min(best.frameRate, Math.max(SLOWEST, best.frameRate * 0.5)),
    slowest: Math.min(best.frameRate, SLOWEST),
    width: (share: number) => Math.min(best.width, Math.max(SMALLEST_PX, best.width * share)),
  };
}

/** How the logarithm of the bytes goes with width and rate. */
const WIDTH_POWER = 1.8;
const RATE_POWER = 0.6;

function sizeAndRateLog({ width, frameRate }: FitSettings): number {
  return WIDTH_POWER * Math.log(width) + RATE_POWER * Math.log(frameRate);
}

const LEAST_COLORS = 24;
const SMALL = { settle: 5.4, squeeze: 6.8 };
const SMALLEST = { settle: 9, squeeze: 12 };

/**
 * Files with palettes. Sharp gives up frames first, smooth pixels and colours, colour pixels and frames
 * together; each gives up more of the rest when that is not enough.
 */
export const PALETTE_FIT: FitModel = {
  best: { colors: 256, settle: 1.8, squeeze: 1.8 },
  legsOf(kind: FitKind, best: FitSettings): readonly FitLeg[] {
    const { slow, slowest, width } = ends(best);
    const colors = (most: number) => Math.min(best.colors, most);
    const last = {
      width: width(LEAST_WIDTH),
      frameRate: slowest,
      colors: colors(LEAST_COLORS),
      ...SMALLEST,
    };
    switch (kind) {
      case 'sharp':
        return [{ frameRate: slow }, SMALL, { frameRate: slowest, colors: colors(96) }, last];
      case 'smooth':
        return [SMALL, { width: width(0.45), colors: colors(64) }, last];
      case 'colour':
        return [{ width: width(0.4), frameRate: slow }, SMALL, last];
    }
  },
  predictedLog(settings) {
    const { colors, settle, squeeze } = settings;
    return sizeAndRateLog(settings) + 0.2 * Math.log(colors) - 0.9 * Math.log(settle + squeeze + 2);
  },
  rising: ['settle', 'squeeze'],
  steps: { width: 2, frameRate: 0.1, colors: 1, settle: 0.01, squeeze: 0.01 },
};

/** The logarithm of the bytes falls by this for one step of quality, 0–100. */
const QUALITY_SLOPE = 0.03;
const FAIR_QUALITY = 60;
const POOR_QUALITY = 35;
const LEAST_QUALITY = 10;

/**
 * Files whose encoder has a quality, 0–100. All give up some of it first; then sharp gives up frames, smooth
 * quality, and colour pixels and frames, so that what is left keeps its colours.
 */
export const QUALITY_FIT: FitModel = {
  best: { quality: 90 },
  legsOf(kind: FitKind, best: FitSettings): readonly FitLeg[] {
    const { slow, slowest, width } = ends(best);
    const quality = (most: number) => Math.min(best.quality, most);
    const fair = { quality: quality(FAIR_QUALITY) };
    const poor = { quality: quality(POOR_QUALITY) };
    const last = { width: width(LEAST_WIDTH), frameRate: slowest, quality: quality(LEAST_QUALITY) };
    switch (kind) {
      case 'sharp':
        return [fair, { frameRate: slow }, poor, last];
      case 'smooth':
        return [fair, poor, { width: width(0.5) }, last];
      case 'colour':
        return [{ quality: quality(75) }, { width: width(0.4), frameRate: slow }, poor, last];
    }
  },
  predictedLog: (settings) => sizeAndRateLog(settings) + QUALITY_SLOPE * settings.quality,
  rising: [],
  steps: { width: 2, frameRate: 0.1, quality: 0.1 },
};
