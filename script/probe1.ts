import { findStructure } from '@jossel/core/size';
import { MANY_FINISHES, LAID_TRUE } from '../standins/many-finishes';
for (const f of [...MANY_FINISHES, ...LAID_TRUE]) {
  if (!f.pitchMm.across && !f.pitchMm.up) continue;
  const { picture: p, widthMm, heightMm } = f.picture(1000);
  const s = findStructure(p);
  const out: string[] = [];
  for (const [a, mm] of [['across', widthMm], ['up', heightMm]] as const) {
    const pitch = f.pitchMm[a];
    if (!pitch) { out.push(`${a} none found=${!!s[a]}`); continue; }
    if (!s[a]) { out.push(`${a} NOT FOUND`); continue; }
    const found = s[a].period * mm;
    const r = Math.max(1, Math.round(found / pitch));
    const rel = found / (r * pitch) - 1;
    const n = a === 'across' ? p.widthPx : p.heightPx;
    out.push(`${a} x${r} count ${s[a].count.toFixed(2)} rel ${(rel * 100).toFixed(3)}% px ${(rel * n).toFixed(2)} whole ${s.whole[a]}`);
  }
  console.log(f.name.padEnd(14), `${p.widthPx}x${p.heightPx}`, out.join(' | '), s.stagger?.toFixed(2));
}
