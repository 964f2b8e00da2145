import { findStructure } from '@jossel/core/size';
import { laidScene } from '../standins/laid/scenes';
import { judge } from '../standins/laid/judged';
for (const nv of process.argv.slice(2)) {
  const [name, v] = nv.split(':');
  const scene = laidScene(name!, Number(v));
  const t = performance.now();
  const found = findStructure(scene.picture);
  const ms = performance.now() - t;
  const j = judge(scene, found);
  console.log(nv, j.right ? 'right' : 'WRONG', j.misled ? 'MISLED' : '', j.periodOff === null ? '-' : (100 * j.periodOff).toFixed(3), j.leanDeg?.toFixed(3), ms.toFixed(0), found ? JSON.stringify([found.across?.period, found.up?.period, found.stagger, found.refused]) : '', JSON.stringify(scene.laying.truth), scene.shot.widthMm, scene.shot.slopeDeg);
}
