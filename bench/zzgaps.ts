
import { Session } from 'node:inspector/promises';
import { seededRandom } from '@jossel/core/raster';
import { tried, validTrial } from './zzrandom';
async function main() {
  const random = seededRandom(Number(process.env['SEED'] ?? 11));
  const count = Number(process.env['COUNT'] ?? 60);
  for (let n = 0; n < count; n++) {
    const trial = await validTrial(random);
    const session = new Session(); session.connect();
    await session.post('Profiler.enable'); await session.post('Profiler.setSamplingInterval', { interval: 4000 });
    const gaps: [number, number][] = ((globalThis as any).GAPS = []);
    await session.post('Profiler.start');
    const t0 = performance.now();
    const o = await tried(trial, n, undefined);
    const { profile } = await session.post('Profiler.stop') as any;
    session.disconnect();
    if (o.how === 'failed' || (o.how === 'drawn' && o.ms > 3 * o.estimateMs)) console.log('!!', n, o.how, o.ms, o.estimateMs, o.what, o.says);
    const nodes = new Map<number, any>(profile.nodes.map((q: any) => [q.id, q]));
    const parent = new Map<number, number>();
    for (const q of profile.nodes) for (const c of q.children ?? []) parent.set(c, q.id);
    let t = profile.startTime; const times: number[] = [];
    for (const d of profile.timeDeltas) { t += d; times.push((t - profile.startTime) / 1000 + t0); }
    for (const [from, ms] of gaps) {
      const inc = new Map<string, number>(); let all = 0;
      times.forEach((at, k) => {
        if (at < from || at > from + ms) return;
        all++;
        const seen = new Set<string>();
        for (let id: number | undefined = profile.samples[k]; id; id = parent.get(id)) {
          const f = nodes.get(id).callFrame; const name = f.functionName || `anon:${f.lineNumber}`;
          if (!seen.has(name)) { seen.add(name); inc.set(name, (inc.get(name) ?? 0) + 1); }
        }
      });
      const top = [...inc].filter(([, c]) => c > 0.3 * all).sort((a, b) => b[1] - a[1]).map(([q, c]) => `${q} ${Math.round((100 * c) / all)}`).filter((q) => !/^\((root|program|idle)/.test(q));
      console.log(n, `${ms.toFixed(0)} ms:`, top.slice(-9).join(' < '));
    }
  }
}
void main();
