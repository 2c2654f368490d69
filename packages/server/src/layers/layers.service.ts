import { Readable } from 'node:stream';
import type { LayerKind, LayerView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { Inject, Injectable } from '@nestjs/common';
import { BlobStore } from '../blobs/index.js';
import { Problem } from '../problems/index.js';
import { keepApart } from './keep-apart.js';
import { LAYER_KEEPERS } from './keep-layer.js';

/** What a file is turned into may be larger than itself. */
const MOST_TURNED_BYTES = 128 * 1024 ** 2;

/**
 * What recipes use beside footage: painted masks, retouched plates, emblems, tables of colours, fonts. Immutable,
 * named by their hash; recipes own them.
 */
@Injectable()
export class LayersService {
  constructor(@Inject(BlobStore) private readonly blobs: BlobStore) {}

  async receive(stream: NodeJS.ReadableStream, name: string, kind: LayerKind): Promise<LayerView> {
    const keeper = LAYER_KEEPERS[kind];
    const file = await this.blobs.receive(stream, name, keeper.mostBytes);
    try {
      const { bytes, ...facts } = await keepApart(kind, file.path, name);
      if (bytes === null) {
        await file.keep();
        return { hash: file.hash, ...facts };
      }
      const turned = await this.blobs.receive(Readable.from([Buffer.from(bytes)]), name, MOST_TURNED_BYTES);
      await turned.keep();
      await file.discard();
      return { hash: turned.hash, ...facts };
    } catch (error) {
      await file.discard();
      throw problemOf(error);
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
        'A picture, table or font of this piece is gone from the disk. Undo, or bring it in or paint it anew.',
      );
    }
    await this.blobs.assertWhole(hash, 'A picture, table or font of this piece');
    return this.blobs.pathOf(hash);
  }
}

/** A file of the wrong kind is one thing, one of the right kind that cannot be used another. */
function problemOf(error: unknown): unknown {
  if (!(error instanceof UserError) || error instanceof Problem) return error;
  return new Problem(error.code === 'not_a_png' ? 415 : 422, error.code, error.message);
}
