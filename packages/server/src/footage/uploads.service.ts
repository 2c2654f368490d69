import { join } from 'node:path';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { FileStore } from '@tus/file-store';
import { Server, type Upload } from '@tus/server';
import type { Request, Response } from 'express';
import { toProblem } from '../problems/index.js';
import { dataFolders, SETTINGS, type Settings } from '../settings.js';
import { cleanName } from './clean-name.js';
import { FootageService } from './footage.service.js';

/** How long a broken-off upload can be taken up again, ms. */
const KEPT_MS = 3 * 86_400_000;

/** Takes files in part by part. What is complete becomes footage, and nothing of it stays behind here. */
@Injectable()
export class UploadsService implements OnApplicationBootstrap {
  private readonly log = new Logger('uploads');
  private readonly folder: string;
  private readonly store: FileStore;
  private readonly tus: Server;

  constructor(
    @Inject(SETTINGS) settings: Settings,
    @Inject(FootageService) private readonly footage: FootageService,
  ) {
    this.folder = dataFolders(settings.dataDir).uploads;
    this.store = new FileStore({ directory: this.folder, expirationPeriodInMilliseconds: KEPT_MS });
    this.tus = new Server({
      path: '/api/uploads',
      datastore: this.store,
      relativeLocation: true,
      maxSize: settings.mostUploadBytes,
      // Only the interface itself is let in at all; nothing is allowed to others.
      allowedOrigins: () => false,
      onUploadFinish: (_, upload) => this.finish(upload),
      onResponseError: (_, error) => this.explain(error),
    });
  }

  /** Uploads that nobody took up again go. */
  async onApplicationBootstrap(): Promise<void> {
    await this.tus.cleanUpExpiredUploads();
  }

  async handle(request: Request, response: Response): Promise<void> {
    await this.tus.handle(request, response);
  }

  private async finish(upload: Upload) {
    const name = cleanName(upload.metadata?.name ?? undefined);
    try {
      const view = await this.footage.receiveFile(join(this.folder, upload.id), name);
      return {
        status_code: 200,
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(view),
      };
    } finally {
      // The file itself was kept or thrown away; what is left are the notes on it.
      await this.store.configstore.delete(upload.id);
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
    if (status >= 500 && code !== 'disk_full')
      this.log.error(error instanceof Error ? error.stack : String(error));
    return { status_code: status, body: JSON.stringify({ status, code, title: message }) };
  }
}
