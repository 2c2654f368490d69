import type { HostPageChange, HostPageView, HostView, Mood } from '@muted-pond/core/api';
import {
  Inject,
  Injectable,
  Logger,
  type OnApplicationBootstrap,
  type OnApplicationShutdown,
} from '@nestjs/common';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { PondEvents } from '../jobs/index.js';
import { LimitsService } from '../limits/index.js';
import { errorText, Problem } from '../problems/index.js';
import { dataFolders, SETTINGS, type Settings } from '../settings.js';
import { createHost, embedHtml, type HostPage, HostPages, linksOf } from './site/index.js';

/** Ports that are tried after the one that was wanted. */
const MORE_PORTS = 20;
const LOOPBACK = '127.0.0.1';

/** Starts the practice host beside the editor, and is the editor's way to it. */
@Injectable()
export class PracticeHost implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly log = new Logger('practice host');
  private app: NestExpressApplication | null = null;
  private url: string | null = null;
  private problem: string | null = null;

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LimitsService) private readonly limits: LimitsService,
    @Inject(PondEvents) private readonly events: PondEvents,
  ) {}

  /** The editor works on where the host cannot be started, and tells why. */
  async onApplicationBootstrap(): Promise<void> {
    const { practicePort, dataDir } = this.settings;
    if (practicePort === null) return;
    try {
      this.app = await createHost({
        folder: dataFolders(dataDir).practiceHost,
        places: () => this.limits.list(),
        onChange: () => this.events.tell({ type: 'host' }),
      });
      const port = await this.listen(this.app, practicePort);
      this.url = `http://localhost:${port}`;
      if (practicePort !== 0 && port !== practicePort) {
        this.problem = `Port ${practicePort} is taken by another program; the practice host is at ${port} instead.`;
        this.log.warn(this.problem);
      }
    } catch (error) {
      await this.app?.close().catch(() => {});
      this.app = null;
      const { code, path } = error as NodeJS.ErrnoException;
      const cannotWrite =
        code === 'EACCES' ||
        code === 'EROFS' ||
        code === 'SQLITE_CANTOPEN' ||
        code === 'ENOTDIR' ||
        code === 'EEXIST';
      this.problem = cannotWrite
        ? `The folder of the practice host cannot be written to (${path ?? dataFolders(dataDir).practiceHost}). Make it writable, then start Muted Pond again.`
        : 'The practice host could not be started. What it was stands in the log of the server.';
      this.log.error(errorText(error));
    }
  }

  async onApplicationShutdown(): Promise<void> {
    await this.app?.close();
  }

  /** The wanted port, or the next that is free. */
  private async listen(app: NestExpressApplication, wanted: number): Promise<number> {
    for (let more = 0; ; more++) {
      try {
        await app.listen(wanted === 0 ? 0 : wanted + more, LOOPBACK);
        return (app.getHttpServer().address() as { port: number }).port;
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE' || more >= MORE_PORTS) throw error;
      }
    }
  }

  /** Where files are sent to. @throws Problem when the host does not run. */
  address(): string {
    if (this.url) return this.url;
    throw new Problem(503, 'not_yet', this.problem ?? 'The practice host is not running.');
  }

  async view(): Promise<HostView> {
    const { url, problem } = this;
    const limits = await this.limits.list();
    if (!this.app || !url) return { url: null, problem, places: [], pages: [] };
    const pages = this.app.get(HostPages);
    return {
      url,
      problem,
      places: await Promise.all(
        limits.map(async (limit) => ({ ...limit, mood: await pages.moodOf(limit.id) })),
      ),
      pages: (await pages.list()).map((page) => pageView(page, url, limits)),
    };
  }

  async page(id: string): Promise<HostPageView | null> {
    return (await this.view()).pages.find((page) => page.id === id) ?? null;
  }

  async setMood(place: string, mood: Mood): Promise<void> {
    await this.pages().setMood(place, mood);
  }

  async change(id: string, change: HostPageChange): Promise<HostPageView> {
    const page = await this.pages().change(id, change);
    return pageView(page, this.address(), await this.limits.list());
  }

  private pages(): HostPages {
    this.address();
    return (this.app as NestExpressApplication).get(HostPages);
  }
}

function pageView(
  page: HostPage,
  base: string,
  places: readonly { readonly id: string; readonly name: string }[],
): HostPageView {
  const { id, place, title, about, mime, bytes, width, height, note, createdAt, updatedAt, downAt } = page;
  return {
    ...{ id, place, title, about, mime, bytes, width, height, note, createdAt, updatedAt },
    placeName: places.find((one) => one.id === place)?.name ?? 'A place that is gone',
    page: linksOf(page, base).page,
    embed: embedHtml(page, base),
    direct: linksOf(page, base).direct,
    isDown: downAt !== null,
  };
}
