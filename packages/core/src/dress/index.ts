export { BORDER_LIMITS, type Border, type Corners, edgeFrame } from './border.js';
export { ALIGNMENTS, type Alignment, CAPTION_LIMITS, type Caption, type CaptionStyle } from './caption.js';
export { CAPTION_STARTS, type CaptionStart, type CaptionStartId, newCaption } from './caption-starts.js';
export { blockOf, captionSvg, letterPx, measuringSvg } from './caption-svg.js';
export { type CleanText, cleanText, runsRightToLeft } from './caption-text.js';
export { decodeText } from './decode-text.js';
export { ANCHORS, type Anchor, EMBLEM_LIMITS, type Emblem } from './emblem.js';
export {
  chooseFonts,
  FONT_IDS,
  FONTS,
  type FontChoice,
  type FontFace,
  type FontId,
  hasCharacter,
  runsOf,
  type ShippedFont,
} from './fonts.js';
export { couldBeUndone, hideVeiled } from './hide.js';
export { layOver, type Overlay } from './lay-over.js';
export { emblemRect, placeEmblem } from './place-emblem.js';
export {
  type DressSettings,
  dressHashes,
  dressSchema,
  isOwnFont,
  scaleDress,
  UNDRESSED,
} from './settings.js';
export {
  placeSubtitles,
  readSubtitles,
  type Subtitle,
  type SubtitleGround,
  type Subtitles,
  writeSubtitles,
} from './subtitles.js';
export { MOST_TIME_CS, type ShownTime, seenAt } from './times.js';
export {
  type ShareRect,
  VEIL_EFFECTS,
  VEIL_LIMITS,
  VEIL_SHAPES,
  type Veil,
  type VeilEffect,
  type VeilKey,
  type VeilShape,
  veilAt,
} from './veil.js';
export { thinKeys, withFollowed, withKey, withoutKey } from './veil-keys.js';
