import sharp from 'sharp';
import { defaultRecipe, lead, adviceForRepeat } from '@jossel/core/finish';
import { findStructure, sizeKnownBy } from '@jossel/core/size';
import { srgbToLinear } from '@jossel/core/colour';
import { findLattice } from '../core/size/lattice/find';
for (const [file, turn] of [['smoked-ash-boards.jpg', 0], ['smoked-ash-boards.jpg', 90]] as const) {
  const png = await sharp(`demo/samples/${file}`).resize({ width: 720 }).rotate(turn).png().toBuffer();
  const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const n = info.width * info.height;
  const p: any = { widthPx: info.width, heightPx: info.height, r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) };
  for (let i = 0; i < n; i++) { p.r[i] = srgbToLinear(data[3 * i]! / 255); p.g[i] = srgbToLinear(data[3 * i + 1]! / 255); p.b[i] = srgbToLinear(data[3 * i + 2]! / 255); }
  console.log(file, turn, info.width, info.height, JSON.stringify(findStructure(p)));
  const inf = { id: 'a', sha256: file + turn, widthPx: info.width, heightPx: info.height, focalPx: null };
  const recipe = defaultRecipe(['a'], 'timber', p);
  lead(recipe).size = sizeKnownBy(turn ? { overall: null } as any : { overall: { value: 1600, unit: 'mm', basis: 'measured' } } as any, 'follows');
  lead(recipe).size = sizeKnownBy({ overall: { value: turn ? 1600 * info.width / info.height : 1600, unit: 'mm', basis: 'measured' } } as any, 'follows');
  const a = await adviceForRepeat({ info: async () => inf, level: async () => p, data: async () => p } as any, recipe);
  console.log(a.settings.method, JSON.stringify(a.settings.structure), a.settings.why, JSON.stringify(a.tried.map((t) => [t.name, t.pieces, t.broken])));
}
