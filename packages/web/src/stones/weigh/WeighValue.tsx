import { useTrialsView } from '../../trials/use-trials.js';
import { formatBytes } from '../../ui/format.js';

/** The weight of the present settings' file; a dash until it is made. */
export function WeighValue() {
  const { current } = useTrialsView();
  return current?.state === 'done' && current.figures ? formatBytes(current.figures.bytes) : '—';
}
