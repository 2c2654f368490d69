import { type Size, sizeWithin } from '@muted-pond/core/pixels';
import { LONGEST_MASK_SIDE } from '@muted-pond/core/still';

export function sizeOfMasks(take: Size): Size {
  return sizeWithin(take, LONGEST_MASK_SIDE);
}
