import { findBoards } from '@jossel/core/repeat';
import { findStructure } from '@jossel/core/size';
import { MANY_FINISHES } from '../standins/many-finishes';
for (const f of MANY_FINISHES) {
  if (!f.name.startsWith('boards')) continue;
  const { picture, heightMm } = f.picture(1200);
  const s = findStructure(picture).up!;
  const perMm = picture.heightPx / heightMm;
  const stock = findBoards(picture, { x: perMm, y: perMm }, { along: 'across', pitchMm: s.period * heightMm, firstMm: s.first * heightMm }, null)!;
  console.log(f.name, picture.widthPx, picture.heightPx, 'period px', s.period * picture.heightPx, 'first', s.first * picture.heightPx, 'true', f.pitchMm.up! * perMm);
  console.log([...stock.beginsMm].map(([k, v]) => `${k}: ${(v * perMm).toFixed(2)} (${((v - s.first * heightMm) * perMm - k * s.period * picture.heightPx).toFixed(2)})`).join('  '));
  console.log(stock.joints.map((j) => `${j.course}: ${(j.fromMm * perMm).toFixed(1)}–${(j.toMm * perMm).toFixed(1)}`).join('  '));
}
