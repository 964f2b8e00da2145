export { brokenPieces, type BrokenPiece, type PiecesJudged } from './broken';
