export { brokenPieces, type BrokenPiece, type PiecesJudged } from './broken';
export { jointEnds, type JointEnd, type Masonry } from './joint-ends';
