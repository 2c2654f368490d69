import { randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { copyFile, mkdir, readdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { type HostPageChange, LONGEST_TITLE, type Mood } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { checkLimit, type Limit, type Overrun } from '@muted-pond/core/recipe';
import { plainLine } from '@muted-pond/core/schema';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { IsNull, type Repository } from 'typeorm';
import { hashOf } from '../../blobs/index.js';
import { Problem } from '../../problems/index.js';
import { HOST_SETTINGS, HOST_TABLES, type HostSettings, hostFolders } from './host-settings.js';
import { lookAtFile } from './look-at-file.js';
import { makeSmaller } from './make-smaller.js';
import { HostPage } from './page.entity.js';
import { PlaceMood } from './place-mood.entity.js';

/** What is sent along with a file. */
export interface SentWith {
  readonly place: string;
  readonly title: string;
  readonly about: string;
  readonly plays: number;
  /** A page of the same place whose file is replaced. */
  readonly replaces: string | null;
}

/** A file was looked at, and breaks rules of its place. */
export class Refused extends Problem {
  constructor(place: Limit, over: readonly Overrun[]) {
    const rules = over.map((one) => ruleWords(one)).join('; ');
    super(422, 'request_refused', `${place.name} did not take it: ${rules}.`, { over });
  }
}

/** Pages that are remembered. */
const MOST_LATEST = 200;

/** Pages and the files they show. */
@Injectable()
export class HostPages implements OnModuleInit {
  /** Where the files of pages lie, each under its hash. */
  readonly folder: string;
  /** Pages that were looked at last; every change lets them go. */
  private readonly latest = new LRUCache<string, HostPage>({ max: MOST_LATEST });

  constructor(
    @InjectRepository(HostPage, HOST_TABLES) private readonly pages: Repository<HostPage>,
    @InjectRepository(PlaceMood, HOST_TABLES) private readonly moods: Repository<PlaceMood>,
    @Inject(HOST_SETTINGS) private readonly settings: HostSettings,
  ) {
    this.folder = hostFolders(settings.folder).files;
  }

  /** Files that no page shows go: a stop may have come between the two. */
  async onModuleInit(): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    const shown = new Set((await this.pages.find({ select: { file: true } })).map(({ file }) => file));
    for (const name of await readdir(this.folder)) {
      if (!shown.has(name)) await rm(join(this.folder, name), { force: true });
    }
  }

  async place(id: string): Promise<Limit> {
    const place = (await this.settings.places()).find((one) => one.id === id);
    if (place) return place;
    throw new Problem(404, 'not_found', 'This place is not there any more. Choose another one.');
  }

  async moodOf(place: string): Promise<Mood> {
    return (await this.moods.findOneBy({ place }))?.mood ?? 'fair';
  }

  async setMood(place: string, mood: Mood): Promise<void> {
    await this.place(place);
    await this.moods.save({ place, mood });
    this.settings.onChange();
  }

  /** All pages, the newest first. */
  list(): Promise<HostPage[]> {
    return this.pages.find({ order: { createdAt: 'DESC' } });
  }

  /** A page that is up; many look at one page at once. */
  async shown(id: string): Promise<HostPage> {
    const page = this.latest.get(id) ?? (await this.pages.findOneBy({ id, downAt: IsNull() }));
    if (page) {
      this.latest.set(id, page);
      return page;
    }
    throw new Problem(404, 'not_found', 'There is no page at this address; it may have been taken down.');
  }

  /**
   * Looks at a file that has arrived, and shows it if it keeps the rules of its place. The file is used up.
   * @throws Refused with every rule that is broken, and by how much.
   */
  async accept(path: string, sent: SentWith): Promise<HostPage> {
    try {
      const place = await this.place(sent.place);
      const old = sent.replaces === null ? null : await this.pages.findOneBy({ id: sent.replaces });
      if (sent.replaces !== null && old?.place !== place.id) {
        throw new Problem(
          404,
          'not_found',
          `${place.name} has no such page to replace. Send it as a new one.`,
        );
      }
      const seen = await lookAtFile(path).catch((error: unknown) => {
        throw error instanceof UserError ? new Problem(415, 'wrong_type', error.message) : error;
      });
      const over = checkLimit(place, seen);
      if (over.length > 0) throw new Refused(place, over);
      const isSmaller =
        (await this.moodOf(place.id)) === 're-encodes' && (await makeSmaller(path, seen.kind, seen.width));
      const shown = isSmaller ? await lookAtFile(path) : seen;
      const file = await hashOf(createReadStream(path));
      await move(path, join(this.folder, file));
      const now = new Date().toISOString();
      const page = await this.pages.save({
        id: old?.id ?? newId(),
        place: place.id,
        title: cleanText(sent.title) || 'Untitled',
        about: cleanText(sent.about, MOST_ABOUT),
        file,
        mime: shown.mime,
        bytes: shown.bytes,
        width: shown.width,
        height: shown.height,
        plays: sent.plays,
        note: isSmaller
          ? `${place.name} made it smaller: ${shown.width} px wide instead of ${seen.width}.`
          : null,
        createdAt: old?.createdAt ?? now,
        updatedAt: now,
        downAt: null,
      });
      this.latest.delete(page.id);
      if (old) await this.dropFile(old.file);
      this.settings.onChange();
      return page;
    } finally {
      await rm(path, { force: true });
    }
  }

  async change(id: string, { title, about, isDown }: HostPageChange): Promise<HostPage> {
    const page = await this.pages.findOneBy({ id });
    if (!page) throw new Problem(404, 'not_found', 'There is no such page any more.');
    const changed = await this.pages.save({
      ...page,
      title: title === undefined ? page.title : cleanText(title) || page.title,
      about: about === undefined ? page.about : cleanText(about, MOST_ABOUT),
      downAt: isDown === undefined ? page.downAt : isDown ? new Date().toISOString() : null,
    });
    this.latest.delete(id);
    this.settings.onChange();
    return changed;
  }

  private async dropFile(file: string): Promise<void> {
    if ((await this.pages.countBy({ file })) === 0) await rm(join(this.folder, file), { force: true });
  }
}

const MOST_ABOUT = 500;

/** One plain line, and no more of it than a page shows. */
export function cleanText(text: string, most = LONGEST_TITLE): string {
  const clean = plainLine(text);
  const letters = [...clean];
  return letters.length <= most ? clean : `${letters.slice(0, most - 1).join('')}…`;
}

function ruleWords({ what, is, most }: Overrun): string {
  const kilobytes = (bytes: number) => `${Math.ceil(bytes / 1000)} KB`;
  switch (what) {
    case 'bytes':
      return `it weighs ${kilobytes(is)}, ${kilobytes(is - most)} more than the ${kilobytes(most)} it may`;
    case 'width':
      return `it is ${is} px wide, ${is - most} more than it may`;
    case 'height':
      return `it is ${is} px high, ${is - most} more than it may`;
    case 'seconds':
      return `it lasts ${is.toFixed(2)} s, ${(is - most).toFixed(2)} s more than it may`;
    case 'frameRate':
      return `it has ${is.toFixed(1)} frames a second, ${Math.floor(most)} are the most`;
    case 'alpha':
      return 'it is transparent, and may not be';
    case 'kind':
      return 'it is of a kind that is not taken here';
  }
}

/** Short, and not to be guessed. */
function newId(): string {
  return randomBytes(8).toString('base64url');
}

/** Written whole or not at all. */
async function move(from: string, to: string): Promise<void> {
  const half = `${to}.half`;
  await copyFile(from, half);
  await rename(half, to);
}
