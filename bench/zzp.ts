import { LAYINGS } from '../standins/laid/bonds';
import { photograph } from '../standins/laid/photographed';
const MASONRY: any = { face: [0.32, 0.14, 0.1], other: [0.2, 0.09, 0.07], joint: [0.45, 0.43, 0.39], varies: 0.16, grain: 0.12 };
const shot: any = { widthPx: 632, heightPx: 474, widthMm: 1300, slopeDeg: 1, nearer: [0.02, 0], bow: 0.003, fall: 0.2, noise: 0.02, seed: 5 };
for (const [name, make] of Object.entries(LAYINGS)) { const t = performance.now(); const { picture } = photograph(make(77), MASONRY, shot); let s = 0; for (const v of picture.r) s += v; console.log(name, ((performance.now() - t) / 1000).toFixed(2), s); }
