import type { LayerView } from '@muted-pond/core/api';
import { LONGEST_MASK_SIDE } from '@muted-pond/core/still';
import { Inject, Injectable } from '@nestjs/common';
import { assertWhole, probePicture } from '../media/index.js';
import { Problem } from '../problems/index.js';
import { BlobStore } from '../storage/index.js';

const MOST_BYTES = 64 * 1024 ** 2;
/** Plates are in the take's own size, which may be larger than a mask. */
const LONGEST_SIDE = 4 * LONGEST_MASK_SIDE;

/**
 * Pictures that recipes lay over footage: painted masks and retouched plates. Immutable, named by their hash;
 * recipes own them.
 */
@Injectable()
export class LayersService {
  constructor(@Inject(BlobStore) private readonly blobs: BlobStore) {}

  async receive(stream: NodeJS.ReadableStream, name: string): Promise<LayerView> {
    const file = await this.blobs.receive(stream, name, MOST_BYTES);
    try {
      const { width, height, codec } = await probePicture(file.path, name);
      if (codec.toLowerCase() !== 'png') {
        throw new Problem(415, 'not_a_png', `“${name}” is not a PNG. Save it as PNG and bring it again.`);
      }
      if (Math.max(width, height) > LONGEST_SIDE) {
        throw new Problem(
          422,
          'too_large',
          `“${name}” is ${width} × ${height} px; ${LONGEST_SIDE} px is the longest side that can be used.`,
        );
      }
      await assertWhole(file.path, name);
      await file.keep();
      return { hash: file.hash, width, height };
    } catch (error) {
      await file.discard();
      throw error;
    }
  }

  /** Those of some layers that are not here. */
  async missing(hashes: readonly string[]): Promise<string[]> {
    const there = await Promise.all(hashes.map((hash) => this.blobs.has(hash)));
    return hashes.filter((_, i) => !there[i]);
  }

  /** Where a layer lies. @throws Problem when it is gone. */
  async path(hash: string): Promise<string> {
    if (!/^[0-9a-f]{64}$/.test(hash) || !(await this.blobs.has(hash))) {
      throw new Problem(
        404,
        'layer_gone',
        'This painted picture is gone from the disk. Undo, or paint it anew.',
      );
    }
    await this.blobs.assertWhole(hash, 'This painted picture');
    return this.blobs.pathOf(hash);
  }
}
