/** What travels between server and interface. Times of day are ISO 8601. */
export type { PondEvent } from './events.js';
export type { FitOffer, FitView, KindMade, KindsView, Saving, SavingsView } from './fit-views.js';
export { FOLLOW_WAYS, type FollowView, type FollowWay } from './follow-views.js';
export {
  type FootageTimes,
  type FootageView,
  type MotionView,
  type StripProgress,
  WORKING_LONG_SIDE,
} from './footage-views.js';
export {
  type BesideRequest,
  besideRequestSchema,
  type HostPageChange,
  type HostPageView,
  type HostView,
  hostPageChangeSchema,
  LONGEST_TITLE,
  MOODS,
  type Mood,
  type MoodChange,
  moodChangeSchema,
  type PlaceView,
  type SendingItem,
  type SendingView,
  type SendRequest,
  sendRequestSchema,
} from './host.js';
export type { JobView, ToldView } from './job-view.js';
export { LAYER_KINDS, type LayerKind, type LayerView } from './layer-views.js';
export { type PackageRequest, packageRequestSchema } from './package-request.js';
export type { PieceView, ShelfPiece, UnreadablePiece } from './piece-views.js';
export {
  type FitRequest,
  type FollowRequest,
  fitRequestSchema,
  followRequestSchema,
  type LimitValues,
  limitSchema,
  MOST_ABOUT,
  type NewPiece,
  newPieceSchema,
  type OfRecipe,
  ofRecipeSchema,
  type PieceSave,
  pieceSaveSchema,
  type SavingsRequest,
  savingsRequestSchema,
  type TrialChange,
  trialChangeSchema,
  weaveAskSchema,
} from './requests.js';
export type { BackupHolds, BackupView, HealthView, ProblemView } from './server-views.js';
export type { HoldingFigures, HoldingView } from './still-views.js';
export type { SeenLikeness, TrialFigures, TrialProgress, TrialState, TrialView } from './trial-views.js';
export type { WeaveAdvice, WeaveAdviceView, WeavingView } from './weaving-views.js';
