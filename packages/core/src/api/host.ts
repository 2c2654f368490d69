import Joi from 'joi';
import { MOST_COMPARED } from '../pages/index.js';
import type { Limit, Overrun } from '../recipe/index.js';
import type { ToldView } from './job-view.js';

/** How a place of the practice host behaves: fairly, or badly in one way, for practice. */
export const MOODS = ['fair', 'slow', 'breaks-off', 'refuses', 'full', 're-encodes'] as const;
export type Mood = (typeof MOODS)[number];

/** A place that loops can be sent to. */
export interface PlaceView extends Limit {
  readonly mood: Mood;
}

/** A page at the practice host. Addresses are whole ones. */
export interface HostPageView {
  readonly id: string;
  readonly place: string;
  readonly placeName: string;
  readonly title: string;
  readonly about: string;
  readonly page: string;
  /** HTML that shows it in another page. */
  readonly embed: string;
  /** The file itself. */
  readonly direct: string;
  readonly mime: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
  /** What the place did to the file, in a sentence; null where it took it as it was. */
  readonly note: string | null;
  readonly createdAt: string;
  readonly updatedAt: string;
  /** Taken down; it can be put back. */
  readonly isDown: boolean;
}

/** What the practice host is asked by the editor. */
export interface HostView {
  /** Null where it does not run. */
  readonly url: string | null;
  /** Why it does not run, or runs elsewhere than it should. */
  readonly problem: string | null;
  readonly places: readonly PlaceView[];
  /** The newest first. */
  readonly pages: readonly HostPageView[];
}

/** A file on its way to one place. */
export interface SendingItem {
  readonly place: string;
  readonly placeName: string;
  readonly state: 'waiting' | 'fitting' | 'sending' | 'accepted' | 'refused' | 'stopped' | 'failed';
  /** 0–1 of what is being done. */
  readonly done: number;
  readonly doing: string;
  /** The trial that is sent. */
  readonly trial: string | null;
  /** The page, once it is accepted. */
  readonly page: HostPageView | null;
  /** Why it was refused or broke off, and what would help. */
  readonly problem: string | null;
  /** The rules that were broken. */
  readonly over: readonly Overrun[];
}

/** What is being sent of a piece: one list for all places. */
export interface SendingView extends ToldView {
  readonly piece: string;
  readonly state: 'working' | 'done' | 'failed';
  readonly items: readonly SendingItem[];
  readonly problem: string | null;
}

export const LONGEST_TITLE = 120;

/** A title as it is sent: long ones are cut by the host. */
const title = Joi.string().trim().allow('').max(5_000);

/** A finished trial is to be sent. */
export interface SendRequest {
  readonly trial: string;
  readonly places: readonly string[];
  /** Whether a file that a place would refuse is fitted for it first. */
  readonly fits: boolean;
  readonly title: string;
  readonly about: string;
  /** A page whose file is to be replaced; its link stays. */
  readonly replaces?: string;
}

export const sendRequestSchema = Joi.object<SendRequest>({
  trial: Joi.string().min(1).max(60).required(),
  places: Joi.array().items(Joi.string().min(1).max(60)).min(1).max(20).unique().required(),
  fits: Joi.boolean().required(),
  title: title.required(),
  about: title.required(),
  replaces: Joi.string().min(1).max(40),
});

/** Finished trials that are shown beside one another on one page of a place. */
export interface BesideRequest {
  readonly place: string;
  readonly title: string;
  readonly trials: readonly {
    readonly trial: string;
    /** What it is called there, and its settings and figures. */
    readonly title: string;
    readonly about: string;
  }[];
}

export const besideRequestSchema = Joi.object<BesideRequest>({
  place: Joi.string().min(1).max(60).required(),
  title: title.required(),
  trials: Joi.array()
    .items(
      Joi.object({
        trial: Joi.string().min(1).max(60).required(),
        title: title.required(),
        about: title.required(),
      }),
    )
    .min(2)
    .max(MOST_COMPARED)
    .required(),
});

export interface MoodChange {
  readonly mood: Mood;
}

export const moodChangeSchema = Joi.object<MoodChange>({
  mood: Joi.string()
    .valid(...MOODS)
    .required(),
});

/** What one may change of a page. */
export interface HostPageChange {
  readonly title?: string;
  readonly about?: string;
  readonly isDown?: boolean;
}

export const hostPageChangeSchema = Joi.object<HostPageChange>({
  title: title.min(1),
  about: title,
  isDown: Joi.boolean(),
}).min(1);
