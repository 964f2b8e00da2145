export * from './angled';
export * from './boards';
export * from './bond';
export * from './joints-of-pieces';
export * from './joint-colours';
export {
  fillCells,
  jointsOfLatticeSteps,
  piecesOfLatticeSteps,
  type CoursesOfLattice,
} from './joints-of-lattice';
export * from './rectangles';
export { mortarOf } from './mortar';
export { Neighbours } from './neighbours';
export { piecesBetween, type Piece, type Pieces } from './pieces-between';
export * from './segment';
export { inFewSizes } from './sizes';
export { median } from './statistics';
export * from './stones';
