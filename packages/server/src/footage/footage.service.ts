import type { FootageView } from '@muted-pond/core/api';
import { sizeWithin } from '@muted-pond/core/pixels';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import { decodeFrames, probeVideo } from '../media/index.js';
import { notFound, Problem } from '../problems/index.js';
import { SETTINGS, type Settings } from '../settings.js';
import { BlobStore } from '../storage/index.js';
import { Footage } from './footage.entity.js';
import { footageView } from './footage-view.js';
import { FrameService } from './frame.service.js';
import { StripService } from './strip.service.js';

@Injectable()
export class FootageService {
  /** Footage whose strip and frames are being made or were made since the start. */
  private readonly preparing = new Set<string>();
  /** Those of them that are done. */
  private readonly ready = new Set<string>();

  constructor(
    @InjectRepository(Footage) private readonly footage: Repository<Footage>,
    @Inject(BlobStore) private readonly blobs: BlobStore,
    @Inject(StripService) private readonly strips: StripService,
    @Inject(FrameService) private readonly frames: FrameService,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async list(): Promise<FootageView[]> {
    const rows = await this.footage.find({ order: { addedAt: 'DESC' } });
    return rows.map((row) => this.view(row));
  }

  async get(hash: string): Promise<Footage> {
    const row = await this.footage.findOneBy({ hash });
    if (!row) throw notFound('footage');
    return row;
  }

  view(row: Footage): FootageView {
    return footageView(row, this.strips.progressOf(row), this.ready.has(row.hash));
  }

  /**
   * Takes a file in: streamed to disk and hashed, looked at, its first frame decoded, then kept. The same file twice
   * is kept once. Whatever is wrong with it, nothing of it stays.
   */
  async receive(stream: NodeJS.ReadableStream, name: string): Promise<FootageView> {
    const incoming = await this.blobs.receive(stream, name, this.settings.mostUploadBytes);
    try {
      const known = await this.footage.findOneBy({ hash: incoming.hash });
      if (known) {
        await incoming.discard();
        this.prepare(known);
        return this.view(known);
      }
      const facts = await probeVideo(incoming.path, name);
      await this.assertDecodes(incoming.path, name, facts);
      await incoming.keep();
      const row = await this.footage.save({
        hash: incoming.hash,
        name,
        bytes: incoming.bytes,
        facts,
        addedAt: new Date().toISOString(),
      });
      this.prepare(row);
      return this.view(row);
    } catch (error) {
      await incoming.discard();
      throw error;
    }
  }

  /** Makes strip and working frames in the background, once. */
  prepare(row: Footage): void {
    if (this.preparing.has(row.hash)) return;
    this.preparing.add(row.hash);
    void this.strips
      .prepare(row)
      .then(() => this.frames.prepare(row))
      .then(() => this.ready.add(row.hash));
  }

  async strip(hash: string, place: number): Promise<Buffer> {
    const row = await this.get(hash);
    const picture = await this.strips.picture(row, place);
    if (!picture) throw new Problem(404, 'not_yet', 'This picture of the strip is not made yet.');
    return picture;
  }

  async frame(hash: string, frame: number): Promise<Buffer> {
    const row = await this.get(hash);
    const last = row.facts.ticks.length - 1;
    if (frame > last) {
      throw new Problem(
        404,
        'no_such_frame',
        `“${row.name}” has frames 0 to ${last}; ${frame} is none of them.`,
      );
    }
    return this.frames.frame(row, frame);
  }

  private async assertDecodes(
    path: string,
    name: string,
    facts: Awaited<ReturnType<typeof probeVideo>>,
  ): Promise<void> {
    const size = sizeWithin(facts, 64);
    for await (const _ of decodeFrames({ path, name, facts, frames: [0], size, format: 'rgba' })) break;
  }
}
