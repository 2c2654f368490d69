import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { UserError } from '@muted-pond/core/errors';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { Interval } from '@nestjs/schedule';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { Request, Response } from 'express';
import { errorText, toProblem } from '../../problems/index.js';
import { HostPages, Refused, type SentWith } from './host-pages.service.js';
import { HOST_SETTINGS, type HostSettings, hostFolders } from './host-settings.js';

/** How long a broken-off upload can be taken up again, ms. */
const KEPT_MS = 86_400_000;
/** How often expired uploads are looked for, ms. */
const CLEAN_EVERY_MS = 3_600_000;
/** The largest file that any place takes, bytes. */
const MOST_BYTES = 1e9;
/** A slow place takes so long over each part, ms. */
const SLOWNESS_MS = 350;
/** Breaks that are remembered. */
const MOST_BREAKS = 1000;

/** Takes files in part by part (tus, resumable upload protocol 1.0), each place in its own mood. */
@Injectable()
export class HostUploads implements OnApplicationBootstrap {
  private readonly log = new Logger('practice host');
  private readonly folder: string;
  private readonly store: FileStore;
  private readonly tus: Server;
  /** Where a place has broken off already: it does so once at each offset. */
  private readonly broken = new Set<string>();

  constructor(
    @Inject(HOST_SETTINGS) settings: HostSettings,
    @Inject(HostPages) private readonly pages: HostPages,
  ) {
    this.folder = hostFolders(settings.folder).uploads;
    this.store = new FileStore({ directory: this.folder, expirationPeriodInMilliseconds: KEPT_MS });
    this.tus = new Server({
      path: '/uploads',
      datastore: this.store,
      relativeLocation: true,
      maxSize: (_, id) => this.mostBytesOf(id),
      allowedOrigins: () => false,
      onUploadCreate: (_, upload) => this.greet(upload),
      onUploadFinish: (_, upload) => this.finish(upload),
      onResponseError: (_, error) => this.explain(error),
    });
  }

  async onApplicationBootstrap(): Promise<void> {
    await this.clean();
  }

  /** Uploads that nobody took up again go. */
  @Interval(CLEAN_EVERY_MS)
  async clean(): Promise<void> {
    await this.tus.cleanUpExpiredUploads();
  }

  /**
   * What an upload may hold while it comes. One that told its length was held against its place at its start, and
   * is told every rule that it breaks.
   */
  private async mostBytesOf(id: string | null): Promise<number> {
    const upload = id === null ? null : await this.store.getUpload(id).catch(() => null);
    if (!upload?.sizeIsDeferred) return MOST_BYTES;
    const place = await this.pages.place(sentWith(upload).place).catch(() => null);
    return place?.bytes ?? MOST_BYTES;
  }

  async handle(request: Request, response: Response): Promise<void> {
    if (request.method === 'PATCH' && (await this.isDisturbed(request))) return;
    await this.tus.handle(request, response);
  }

  /** What a place in a bad mood does while a file comes in. @returns whether the line is gone. */
  private async isDisturbed(request: Request): Promise<boolean> {
    const id = request.path.split('/').at(-1) ?? '';
    const upload = await this.store.getUpload(id).catch(() => null);
    const mood = upload ? await this.pages.moodOf(sentWith(upload).place) : 'fair';
    if (mood === 'slow') await wait(SLOWNESS_MS);
    if (mood !== 'breaks-off') return false;
    const at = `${id} ${request.headers['upload-offset']}`;
    if (this.broken.has(at)) return false;
    if (this.broken.size >= MOST_BREAKS) this.broken.clear();
    this.broken.add(at);
    request.socket.destroy();
    return true;
  }

  /** What is plainly against the rules is refused before it is sent. */
  private async greet(upload: Upload) {
    const { place: id } = sentWith(upload);
    const place = await this.pages.place(id);
    const mood = await this.pages.moodOf(id);
    if (mood === 'refuses') {
      throw new UserError(
        'request_refused',
        `${place.name} takes nothing at all just now, and does not say why. Try another place, or later.`,
      );
    }
    if (mood === 'full') {
      throw new UserError(
        'request_refused',
        `${place.name} is full: there is no room for another file. Take a page down there, or try later.`,
      );
    }
    const bytes = upload.size ?? 0;
    if (bytes > place.bytes) throw new Refused(place, [{ what: 'bytes', is: bytes, most: place.bytes }]);
    return {};
  }

  private async finish(upload: Upload) {
    try {
      const page = await this.pages.accept(join(this.folder, upload.id), sentWith(upload));
      return {
        status_code: 200,
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ id: page.id }),
      };
    } finally {
      await this.store.configstore.delete(upload.id);
    }
  }

  /** Every refusal as problem details; errors of the protocol keep their status. */
  private explain(error: unknown): { status_code: number; body: string } {
    const { status_code, body } = error as { status_code?: number; body?: string };
    if (status_code !== undefined) {
      const title = status_code === 413 ? 'This file is larger than the place takes. Make it lighter.' : body;
      return { status_code, body: JSON.stringify({ status: status_code, code: 'request_refused', title }) };
    }
    const { status, code, message, more } = toProblem(error);
    if (status >= 500 && code !== 'disk_full') {
      this.log.error(errorText(error));
    }
    return { status_code: status, body: JSON.stringify({ status, code, title: message, ...more }) };
  }
}

function sentWith({ metadata }: Upload): SentWith {
  const plays = Number(metadata?.plays ?? 0);
  return {
    place: metadata?.place ?? '',
    title: metadata?.title ?? '',
    about: metadata?.about ?? '',
    plays: Number.isInteger(plays) && plays >= 0 ? plays : 0,
    replaces: metadata?.replaces ?? null,
  };
}
