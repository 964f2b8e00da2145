import { laidScene, SCENE_NAMES } from '../standins/laid/scenes';
import { photograph } from '../standins/laid/photographed';
import { judge } from '../standins/laid/judged';
import { findStructure } from '@jossel/core/size';
const T: any = { face: [0.35, 0.14, 0.09], other: [0.3, 0.12, 0.08], joint: [0.5, 0.47, 0.42], varies: 0.5, grain: 0.15 };
const part = process.argv[2];
for (const name of part!.split(',')) for (const [what, ch] of [['bow', { bow: 0.03 }], ['few', { widthMm: /weave|twill/.test(name) ? 70 : 520 }], ['small', { widthPx: 320, heightPx: 240 }], ['noise', { noise: 0.12, fall: 0.4 }]] as const) {
  if (process.argv[3] && !process.argv[3].includes(what)) continue;
  const s = laidScene(name, 1);
  const shot = { ...s.shot, ...ch } as any;
  const scene: any = { ...s, shot, ...photograph(s.laying, /weave|twill/.test(name) ? { ...T, other: [0.2, 0.25, 0.35], joint: [0.03, 0.03, 0.03] } : T, shot) };
  const f = findStructure(scene.picture); const j = judge(scene, f);
  console.log(name, what, j.right ? 'right' : j.misled ? 'MISLED' : 'none', j.periodOff === null ? '' : (100 * j.periodOff).toFixed(2), j.leanDeg?.toFixed(2) ?? '', JSON.stringify(f.refused), f.across && (f.across.period * shot.widthMm).toFixed(1), f.up && (f.up.period * shot.heightPx * shot.widthMm / shot.widthPx).toFixed(1), f.stagger, JSON.stringify(s.laying.truth));
}
