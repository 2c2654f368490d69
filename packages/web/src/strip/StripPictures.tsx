import type { FootageView } from '@muted-pond/core/api';
import { useEffect, useState } from 'react';
import { smallUrl, stripUrl } from '../api/frame-urls.js';
import { useFootage } from '../api/queries.js';
import type { PieceTake } from '../piece/piece-take.js';
import type { StripView } from '../store/session-store.js';
import { pictureQueue } from './picture-queue.js';
import classes from './strip.module.css';
import { stripTiles } from './strip-view.js';

interface StripPicturesProps {
  readonly take: PieceTake;
  readonly view: StripView;
  /** How many pictures of the take's shape there is room for. */
  readonly room: number;
}

/** A place this many times as wide as its picture shows all of it, with room beside. */
const WIDE = 1.6;

/** The pictures of what is shown: at once the nearest rough one of the whole take, then each frame itself. */
export function StripPictures({ take, view, room }: StripPicturesProps) {
  const { tiles } = stripTiles(view, take.times, room);
  const isWide = (width: number) => width * room > WIDE;
  return (
    <div className={classes.pictures} aria-hidden="true">
      {tiles.map(({ frame, left, width }, place) => (
        <div
          key={`${frame}/${tiles[place - 1]?.frame === frame ? place : ''}`}
          className={classes.place}
          data-wide={isWide(width) || undefined}
          style={{ left: `${left * 100}%`, width: `${width * 100}%` }}
        >
          <FramePicture take={take} frame={frame} />
        </div>
      ))}
    </div>
  );
}

/** One frame in small; until it is there, the rough picture nearest to it. */
export function FramePicture({ take, frame }: { take: PieceTake; frame: number }) {
  const { file, frame: own } = take.frame(frame);
  const url = smallUrl(file.hash, own);
  const [there, setThere] = useState<string | null>(null);
  useEffect(() => pictureQueue.want(url, () => setThere(url)), [url]);
  if (there === url) return <img src={url} alt="" draggable={false} />;
  return take.footage && <RoughPicture footage={take.footage} frame={frame} />;
}

/** Until the frame itself is there: the picture of the whole take's strip that lies nearest. */
function RoughPicture({ footage, frame }: { footage: FootageView; frame: number }) {
  const { strip } = useFootage(footage.id).data ?? footage;
  const place = Math.min(strip.count - 1, Math.floor((frame * strip.count) / footage.frameCount));
  if (place >= strip.made) return null;
  return <img src={stripUrl(footage.id, place)} alt="" draggable={false} />;
}
