import type { Fit } from '@muted-pond/core/pixels';

export const FIT_LABELS: { value: Fit; label: string }[] = [
  { value: 'contain', label: 'Whole' },
  { value: 'cover', label: 'Fill' },
  { value: 'stretch', label: 'Stretch' },
];
