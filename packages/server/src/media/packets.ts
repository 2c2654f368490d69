import type { VideoFacts } from '../decoder/index.js';
import type { ProbedPacket } from './probe-headers.js';

export interface Packet {
  readonly pts: number;
  readonly duration: number;
  readonly key: boolean;
}

export interface Packets {
  /** In showing order. */
  readonly list: readonly Packet[];
  readonly addressing: VideoFacts['addressing'];
}

/**
 * One stream's packets in showing order, without those that lie outside the edit list: decoded, never shown.
 * Where not every packet says when it is shown, or two say the same, frames are spaced by their decoding
 * times or durations and counted.
 */
export function readPackets(listed: readonly ProbedPacket[], stream: number): Packets {
  const own = listed.filter(
    ({ stream_index, flags = '' }) => stream_index === stream && !flags.includes('D'),
  );
  const list = own
    .map(({ pts, duration, flags = '' }) => ({
      pts: pts ?? Number.NaN,
      duration: duration ?? 0,
      key: flags.includes('K'),
    }))
    .sort((a, b) => a.pts - b.pts);
  const isTimed = list.every((packet, i) => packet.pts > (list[i - 1]?.pts ?? Number.NEGATIVE_INFINITY));
  if (isTimed) return { list, addressing: 'time' };

  const inOrder = own.map((packet) => packet.dts ?? Number.NaN);
  const hasOrder = inOrder.every((dts, i) => dts > (inOrder[i - 1] ?? Number.NEGATIVE_INFINITY));
  const step = own.find((packet) => (packet.duration ?? 0) > 0)?.duration ?? 1;
  return {
    addressing: 'count',
    list: own.map(({ duration, flags = '' }, i) => ({
      pts: hasOrder ? inOrder[i] : i * step,
      duration: duration || step,
      key: flags.includes('K'),
    })),
  };
}
