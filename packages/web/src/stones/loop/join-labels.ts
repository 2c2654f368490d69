import type { JoinSettings } from '@muted-pond/core/loop';

export const JOIN_LABELS: Record<JoinSettings['kind'], string> = {
  cut: 'Cut',
  crossfade: 'Crossfade',
  'there-and-back': 'There & back',
};
