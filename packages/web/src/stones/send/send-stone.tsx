import type { Stone } from '../../stone/stone.js';
import { useTrialsView } from '../../trials/use-trials.js';

export const sendStone: Stone = {
  id: 'send',
  name: 'Send',
  Value: SendValue,
  load: () => import('./send-screen.js'),
};

function SendValue() {
  const { current } = useTrialsView();
  return current?.state === 'done' ? 'ready' : '—';
}
