import { join } from 'node:path';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { Interval } from '@nestjs/schedule';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { Request, Response } from 'express';
import { errorText, problemSentence, sendProblem, toProblem } from '../problems/index.js';
import { dataFolders, SETTINGS, type Settings } from '../settings.js';
import { cleanName } from './clean-name.js';
import { FinishedUploads } from './finished-uploads.js';
import { FootageService } from './footage.service.js';

/** How long a broken-off upload can be taken up again, ms. */
const KEPT_MS = 3 * 86_400_000;
/** How often expired uploads are looked for, ms. */
const CLEAN_EVERY_MS = 3_600_000;

/**
 * Takes files in part by part (tus, resumable upload protocol 1.0). What is complete becomes footage; only a note
 * of it stays, for a sender that did not hear of the end.
 */
@Injectable()
export class UploadsService implements OnApplicationBootstrap {
  private readonly log = new Logger('uploads');
  private readonly folder: string;
  private readonly store: FileStore;
  private readonly tus: Server;
  private readonly finished: FinishedUploads;
  /** Complete uploads that are becoming footage, by their id. */
  private readonly finishing = new Map<string, Promise<string>>();
  /** Uploads of which it is being found out what they became. */
  private readonly looking = new Map<string, Promise<string | null>>();

  constructor(
    @Inject(SETTINGS) settings: Settings,
    @Inject(FootageService) private readonly footage: FootageService,
  ) {
    const { uploads, finishedUploads } = dataFolders(settings.dataDir);
    this.folder = uploads;
    this.store = new FileStore({ directory: this.folder, expirationPeriodInMilliseconds: KEPT_MS });
    this.finished = new FinishedUploads(finishedUploads, KEPT_MS);
    this.tus = new Server({
      path: '/api/uploads',
      datastore: this.store,
      relativeLocation: true,
      maxSize: settings.mostUploadBytes,
      // The gate lets only the interface in; no other origin is allowed.
      allowedOrigins: () => false,
      onUploadFinish: async (_, upload) => {
        const view = await this.footage.viewOf(await this.finish(upload));
        return {
          status_code: 200,
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify(view),
        };
      },
      onResponseError: (_, error) => this.explain(error),
    });
  }

  /** Uploads that were complete when the server ended become footage now. */
  async onApplicationBootstrap(): Promise<void> {
    await this.clean();
    void this.finishWhole().catch((error: unknown) => this.log.error(errorText(error)));
  }

  /** Uploads that nobody took up again go. */
  @Interval(CLEAN_EVERY_MS)
  async clean(): Promise<void> {
    await this.tus.cleanUpExpiredUploads();
    await this.finished.dropExpired();
  }

  async handle(request: Request, response: Response): Promise<void> {
    if (request.method === 'HEAD' && (await this.answerFinished(request, response))) return;
    await this.tus.handle(request, response);
  }

  private async finishWhole(): Promise<void> {
    const begun = (await this.store.configstore.list?.()) ?? [];
    for (const id of new Set([...begun, ...(await this.finished.ids())])) {
      await this.footageOf(id).catch((error: unknown) => {
        this.log.warn(`An upload that was complete was not taken: ${problemSentence(error, this.log)}`);
      });
    }
  }

  /**
   * A sender that lost the line after its last byte asks how far it came: it is told that all is there, and as
   * what, in the header `Upload-Footage`. @returns whether it was answered.
   */
  private async answerFinished(request: Request, response: Response): Promise<boolean> {
    const id = request.path.split('/').at(-1) ?? '';
    try {
      const footage = await this.footageOf(id);
      if (footage === null) return false;
      const { bytes } = await this.footage.get(footage);
      response
        .status(200)
        .set({ 'Tus-Resumable': '1.0.0', 'Cache-Control': 'no-store', 'Upload-Footage': footage })
        .set({ 'Upload-Offset': String(bytes), 'Upload-Length': String(bytes) })
        .end();
    } catch (error) {
      sendProblem(response, toProblem(error));
    }
    return true;
  }

  /** What an upload became, or becomes now where all of it is there; null where parts are missing. */
  private footageOf(id: string): Promise<string | null> {
    const there = this.looking.get(id);
    if (there) return there;
    // Once, whoever asks: the start and a sender may do so at the same moment.
    const looking = this.lookFor(id).finally(() => this.looking.delete(id));
    this.looking.set(id, looking);
    return looking;
  }

  private async lookFor(id: string): Promise<string | null> {
    const finishing = this.finishing.get(id);
    if (finishing) return finishing;
    const upload = await this.store.getUpload(id).catch(() => null);
    if (upload) return isComplete(upload) ? this.finish(upload) : null;
    const hash = await this.finished.footageOf(id);
    if (hash === null) return null;
    // A stop may have come when the file was kept, but not written down as footage.
    const told = await this.store.configstore.get(id);
    if (!(await this.footage.ensure(hash, cleanName(told?.metadata?.name ?? undefined)))) return null;
    if (told) await this.store.configstore.delete(id);
    return hash;
  }

  /** Makes footage of a complete upload, once, whoever asks. @returns its hash. */
  private finish(upload: Upload): Promise<string> {
    const there = this.finishing.get(upload.id);
    if (there) return there;
    const finishing = this.take(upload).finally(() => this.finishing.delete(upload.id));
    this.finishing.set(upload.id, finishing);
    return finishing;
  }

  private async take({ id, metadata }: Upload): Promise<string> {
    const name = cleanName(metadata?.name ?? undefined);
    try {
      // Noted before the file leaves its place: whenever a stop comes, one of the two tells what it is.
      return await this.footage.receiveFile(join(this.folder, id), name, (hash) =>
        this.finished.note(id, hash),
      );
    } catch (error) {
      await this.finished.forget(id);
      throw error;
    } finally {
      // The file itself was kept or thrown away; what is left is the protocol's own note on it.
      await this.store.configstore.delete(id);
    }
  }

  /** Every refusal as problem details, as everywhere; errors of the protocol keep their status. */
  private explain(error: unknown): { status_code: number; body: string } {
    const { status_code, body } = error as { status_code?: number; body?: string };
    if (status_code !== undefined) {
      const title = status_code === 413 ? 'This file is larger than may be brought in. Trim it first.' : body;
      return { status_code, body: JSON.stringify({ status: status_code, code: 'upload_refused', title }) };
    }
    const { status, code, message } = toProblem(error);
    if (status >= 500 && code !== 'disk_full') this.log.error(errorText(error));
    return { status_code: status, body: JSON.stringify({ status, code, title: message }) };
  }
}

function isComplete({ size, offset }: Upload): boolean {
  return size !== undefined && size > 0 && offset === size;
}
