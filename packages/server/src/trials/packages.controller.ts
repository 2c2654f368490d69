import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { PassThrough, Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type PackageRequest, packageRequestSchema } from '@muted-pond/core/api';
import { distinctNames, safeFileName } from '@muted-pond/core/pages';
import { Body, Controller, Header, HttpCode, Inject, Post, StreamableFile } from '@nestjs/common';
import { ApiBody, ApiOperation, ApiTags } from '@nestjs/swagger';
import { Zip, ZipPassThrough } from 'fflate';
import { openApiSchema } from '../open-api.js';
import { TrialsService } from './trials.service.js';

/** Several finished files at once. */
@ApiTags('trials')
@Controller('api/packages')
export class PackagesController {
  constructor(@Inject(TrialsService) private readonly trials: TrialsService) {}

  @Post()
  @HttpCode(200)
  @Header('Cache-Control', 'no-store')
  @ApiOperation({ summary: 'Finished files and texts in one ZIP; names that would meet get a number' })
  @ApiBody({ schema: openApiSchema(packageRequestSchema) })
  async make(
    @Body({ schema: packageRequestSchema }) { files, texts }: PackageRequest,
  ): Promise<StreamableFile> {
    // Before the first byte: a file that is gone is told of, and not left out.
    const paths = await Promise.all(files.map(async ({ trial }) => (await this.trials.file(trial)).path));
    const names = distinctNames([...files, ...texts].map(({ name }) => safeFileName(name)));
    const entries = [
      ...paths.map((path, i) => ({ name: names[i], open: () => createReadStream(path) })),
      ...texts.map(({ text }, i) => ({
        name: names[files.length + i],
        open: () => Readable.from([Buffer.from(text)]),
      })),
    ];
    return new StreamableFile(zipOf(entries), { type: 'application/zip' });
  }
}

interface Entry {
  readonly name: string;
  readonly open: () => Readable;
}

/**
 * Entries as they are, one after the other: they are packed already. Whoever stops taking them lets go of the file
 * that is open.
 */
function zipOf(entries: readonly Entry[]): Readable {
  const out = new PassThrough();
  const zip = new Zip((error, piece, isLast) => {
    if (error) out.destroy(error);
    else {
      out.write(piece);
      if (isLast) out.end();
    }
  });
  const gone = new AbortController();
  out.once('close', () => gone.abort());
  const { signal } = gone;
  const fill = async () => {
    for (const { name, open } of entries) {
      const entry = new ZipPassThrough(name);
      zip.add(entry);
      const push = async (chunks: AsyncIterable<Uint8Array>) => {
        for await (const chunk of chunks) {
          entry.push(chunk);
          if (out.writableNeedDrain) await once(out, 'drain', { signal });
        }
      };
      await pipeline(open(), push, { signal });
      entry.push(new Uint8Array(), true);
    }
    zip.end();
  };
  fill().catch((error) => out.destroy(error));
  return out;
}
