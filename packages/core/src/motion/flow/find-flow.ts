import type { Size } from '../../pixels/index.js';
import type { LumaPicture } from '../luma-picture.js';
import { type FlowField, resizedField, stillField } from './flow-field.js';
import { openPatchSearch, type PatchSearch } from './patch-search.js';
import { pyramidOf } from './pyramid.js';
import { type Refinement, refineFlow } from './refine-flow.js';
import { openRelaxation, type Relaxation } from './relaxation.js';

const REFINEMENT: Refinement = { smoothness: 20, brightness: 5, gradients: 10, rounds: 3, sweeps: 5 };
/** At full size only little is left to do. */
const LAST_REFINEMENT: Refinement = { ...REFINEMENT, rounds: 1 };
/** The level of the pyramid below which patches are not searched any more: half size. */
const FINEST_SEARCH = 1;

/** A picture with its smaller ones, worked out once for all pairs that it is in. */
export interface FlowPicture {
  readonly levels: readonly LumaPicture[];
}

export function flowPicture(picture: LumaPicture): FlowPicture {
  return { levels: pyramidOf(picture) };
}

/** Finds the flow between pictures of one size; keeps the memory for it. */
export interface FlowFinder {
  /**
   * Where each pixel of one picture has gone in another, coarse to fine: patches are searched from the smallest
   * pictures down to half size, and the field is refined at every size. Light that changes slowly over the
   * picture is not taken for movement.
   * @param near a field that is probably alike, such as that of the frames before; of any size.
   */
  between(a: FlowPicture, b: FlowPicture, near?: FlowField): FlowField;
}

/**
 * @param size of the pictures, from 1 × 1 px on; 480 × 270 px take about 15 MB.
 * @param plain whether no kernel is used; the fields are the same.
 */
export function createFlowFinder(size: Size, plain = false): FlowFinder {
  const searches: PatchSearch[] = [];
  const relaxations: Relaxation[] = [];
  return {
    between({ levels: a }, { levels: b }, near) {
      if (a[0].width !== size.width || a[0].height !== size.height) {
        throw new Error(`This finder is for ${size.width} × ${size.height} px.`);
      }
      const top = a.length - 1;
      let flow = near ? resizedField(near, a[top]) : stillField(a[top]);
      for (let level = top; level >= 0; level--) {
        if (level < top) flow = resizedField(flow, a[level]);
        if (level >= FINEST_SEARCH || level === top) {
          const also = near && level > 0 && level < top ? resizedField(near, a[level]) : null;
          searches[level] ??= openPatchSearch(a[level], plain);
          flow = searches[level].find(a[level], b[level], flow, also);
        }
        relaxations[level] ??= openRelaxation(a[level], plain);
        const how = level === 0 ? LAST_REFINEMENT : REFINEMENT;
        flow = refineFlow(a[level], b[level], flow, how, relaxations[level]);
      }
      return flow;
    },
  };
}
