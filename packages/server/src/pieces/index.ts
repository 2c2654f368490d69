export { Piece } from './piece.entity.js';
export { PiecesModule } from './pieces.module.js';
export { PiecesService, titleOf } from './pieces.service.js';
