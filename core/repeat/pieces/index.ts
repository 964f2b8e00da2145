export { brokenInLattice, brokenPieces, type BrokenPiece, type PiecesJudged } from './broken';
export type { TonedPieces } from './mixed-tones';
export { jointEnds, type JointEnd, type Masonry } from './joint-ends';
