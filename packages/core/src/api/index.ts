export {
  type NewPiece,
  type NewTrial,
  newPieceSchema,
  newTrialSchema,
  type PieceSave,
  pieceSaveSchema,
} from './requests.js';
export type {
  FootageTimes,
  FootageView,
  LayerView,
  MotionView,
  PieceView,
  PondEvent,
  ProblemView,
  StripProgress,
  TrialFigures,
  TrialState,
  TrialView,
} from './views.js';
