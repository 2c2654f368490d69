import { MOST_COMPARED, SIDE_BY_SIDE_SCRIPT, SIDE_BY_SIDE_STYLE } from '@muted-pond/core/pages';
import { All, Controller, Get, Header, Inject, Param, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { Problem } from '../../problems/index.js';
import { HostPages } from './host-pages.service.js';
import { HostUploads } from './host-uploads.service.js';
import {
  besideHtml,
  embedHtml,
  embedPageHtml,
  gonePage,
  linksOf,
  listHtml,
  pageHtml,
  STYLES,
} from './site-html.js';

/** How long a file may be shown without asking again, s: a replaced one is seen soon. */
const FRESH_SECONDS = 60;

/** What anybody sees of the practice host. */
@Controller()
export class SiteController {
  constructor(
    @Inject(HostPages) private readonly pages: HostPages,
    @Inject(HostUploads) private readonly uploads: HostUploads,
  ) {}

  @Get()
  async list(@Req() request: Request, @Res() response: Response): Promise<void> {
    const pages = await this.pages.list();
    response.type('html').send(
      listHtml(
        pages.filter(({ downAt }) => downAt === null),
        baseOf(request),
      ),
    );
  }

  @Get('look.css')
  @Header('Content-Type', 'text/css; charset=utf-8')
  @Header('Cache-Control', 'public, max-age=3600')
  look(): string {
    return STYLES;
  }

  @Get('p/:id')
  async page(@Param('id') id: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    await this.html(response, async () => {
      const page = await this.pages.shown(id);
      const place = await this.pages.place(page.place).catch(() => null);
      return pageHtml(page, place?.name ?? 'A place that is gone', baseOf(request));
    });
  }

  @Get('e/:id')
  async embed(@Param('id') id: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    // Any page may show this one.
    response.removeHeader('X-Frame-Options');
    response.setHeader('Content-Security-Policy', policy('*'));
    await this.html(response, async () => embedPageHtml(await this.pages.shown(id), baseOf(request)));
  }

  /** HEAD, ranges and questions whether it has changed are answered by the server library. */
  @Get('f/:id')
  async file(@Param('id') id: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    const page = await this.pages.shown(id);
    const etag = `"${page.file}"`;
    response.setHeader('Content-Type', page.mime);
    response.setHeader('ETag', etag);
    response.setHeader('Cross-Origin-Resource-Policy', 'cross-origin');
    response.setHeader('Cache-Control', `public, max-age=${FRESH_SECONDS}`);
    // Whoever has it already is answered without a look at the disk.
    if (request.headers['if-none-match'] === etag) {
      response.status(304).end();
      return;
    }
    response.sendFile(page.file, {
      // Only what stands after the root is looked at for dots: data folders may begin with one.
      root: this.pages.folder,
      cacheControl: false,
      lastModified: true,
      dotfiles: 'deny',
    });
  }

  /** oEmbed 1.0, type “rich”. */
  @Get('oembed')
  async oembed(
    @Query('url') url: string | undefined,
    @Query('format') format: string | undefined,
    @Query('maxwidth') most: string | undefined,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    if (format !== undefined && format !== 'json') {
      throw new Problem(501, 'request_refused', 'This host answers in JSON only: ask with format=json.');
    }
    const base = baseOf(request);
    const id = url?.startsWith(`${base}/p/`) ? url.slice(`${base}/p/`.length) : '';
    const page = await this.pages.shown(id);
    const width = Math.min(page.width, Math.max(1, Number(most) || page.width));
    const height = Math.round((page.height * width) / page.width);
    response.json({
      ...{ type: 'rich', version: '1.0', title: page.title, provider_name: 'Practice host' },
      ...{ provider_url: base, width, height, thumbnail_url: linksOf(page, base).direct },
      ...{ thumbnail_width: page.width, thumbnail_height: page.height },
      html: embedHtml({ ...page, width, height }, base),
    });
  }

  /** Several pages beside one another, by their ids with dots between. */
  @Get('s/:ids')
  async beside(@Param('ids') ids: string, @Req() request: Request, @Res() response: Response): Promise<void> {
    response.setHeader('Content-Security-Policy', policy("'none'", true));
    await this.html(response, async () => {
      const wanted = ids.split('.').slice(0, MOST_COMPARED);
      const pages = await Promise.all(wanted.map((id) => this.pages.shown(id)));
      if (pages.length < 2) throw new Problem(404, 'not_found', 'Two pages are needed to compare.');
      return besideHtml(pages, baseOf(request));
    });
  }

  @Get('together.js')
  @Header('Content-Type', 'text/javascript; charset=utf-8')
  @Header('Cache-Control', 'public, max-age=3600')
  together(): string {
    return SIDE_BY_SIDE_SCRIPT;
  }

  @Get('beside.css')
  @Header('Content-Type', 'text/css; charset=utf-8')
  @Header('Cache-Control', 'public, max-age=3600')
  besideLook(): string {
    return SIDE_BY_SIDE_STYLE;
  }

  @All(['uploads', 'uploads/{*id}'])
  upload(@Req() request: Request, @Res() response: Response): Promise<void> {
    return this.uploads.handle(request, response);
  }

  private async html(response: Response, make: () => Promise<string>): Promise<void> {
    try {
      response.type('html').send(await make());
    } catch (error) {
      if (!(error instanceof Problem) || error.status !== 404) throw error;
      response.status(404).type('html').send(gonePage(error.message));
    }
  }
}

/** Where the host is asked for; only names of this machine are answered at all. */
function baseOf({ protocol, headers }: Request): string {
  return `${protocol}://${headers.host}`;
}

/**
 * Nothing but its own files and style sheets; nothing is run, but on a page that compares the host’s own
 * script, which begins all pictures together.
 */
export function policy(ancestors: string, runsTogether = false): string {
  return [
    "default-src 'none'",
    `img-src 'self'${runsTogether ? ' blob:' : ''}`,
    "media-src 'self'",
    "style-src 'self'",
    ...(runsTogether ? ["script-src 'self'", "connect-src 'self'"] : []),
    "base-uri 'none'",
    "form-action 'none'",
    `frame-ancestors ${ancestors}`,
  ].join('; ');
}
