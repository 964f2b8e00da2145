/** What a key does to the view of the proof: turned in degrees, nearer by a factor, or back to the start. */
export interface Turn {
  aroundDeg?: number;
  upDeg?: number;
  nearer?: number;
  back?: boolean;
}
export const TURNS_BY: Readonly<Record<string, Turn>> = {
  ArrowLeft: { aroundDeg: -10 },
  ArrowRight: { aroundDeg: 10 },
  ArrowUp: { upDeg: 8 },
  ArrowDown: { upDeg: -8 },
  '+': { nearer: 1.15 },
  '=': { nearer: 1.15 },
  '-': { nearer: 1 / 1.15 },
  Home: { back: true },
};
