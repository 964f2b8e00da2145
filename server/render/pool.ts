import { existsSync } from 'node:fs';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import Piscina from 'piscina';
import type { Inspection, RenderedFile, IssueOrder, RenderOrder, Swatch, SwatchOrder } from './thread';
import type { DetailOrder } from './relief-detail';
import type { ReliefToPlan } from '@jossel/core/schedule';
import type { MeasuredFiles, MeasureOrder } from './measure';
import type { IssuedAs } from './issued';
import type { Serialised } from './serialise-errors';
import type { Recognised, StraightenOrder, StraightRows } from './look';
import type { SampleBytes } from './sources';
import type { Reading, Spot } from './colour';
import type {
  FinishPieces,
  FoundJoints,
  IssuedFinish,
  PickedPieces,
  Recipe,
  RenderReport,
  Repetition,
  TriedAdvice,
  TriedMethod,
} from '@jossel/core/finish';
import type { GlarePlace, PaletteColour } from '@jossel/core/light';
import type { Preparation, ReportPicture } from '@jossel/core/sample';
import type { FoundStructure } from '@jossel/core/size';
import type { FoundCard } from '@jossel/core/straighten';

/** The threads of this process that compute. */
export interface RenderPool {
  inspect(bytes: Uint8Array): Promise<Inspection>;
  level(
    sample: SampleBytes,
    level: number,
    asData: boolean,
  ): Promise<{ widthPx: number; heightPx: number; planes: Uint8Array }>;
  /** PNG of at most 800 px. */
  reportPicture(sample: SampleBytes, shows: ReportPicture): Promise<Uint8Array>;
  structure(sample: SampleBytes, settings: Preparation): Promise<FoundStructure>;
  /** @param thoroughly looks at every pixel where nothing is seen at a glance */
  card(sample: SampleBytes, thoroughly: boolean): Promise<FoundCard | null>;
  joints(sample: SampleBytes): Promise<FoundJoints | null>;
  sampleColour(sample: SampleBytes): Promise<Reading>;
  palette(sample: SampleBytes, count: number): Promise<PaletteColour[]>;
  glare(sample: SampleBytes, settings: Preparation): Promise<GlarePlace[]>;
  finishColour(order: {
    recipe: Recipe;
    issued?: IssuedAs | null;
    samples: SampleBytes[];
    repeatMm: { width: number; height: number };
    way: string | null;
    spots: Spot[];
  }): Promise<{ repeat: Reading; spots: Pick<Reading, 'lrv' | 'lab'>[] }>;
  advice(order: { recipe: Recipe; samples: SampleBytes[] }): Promise<TriedAdvice<TriedMethod>>;
  pieces(order: {
    recipe: Recipe;
    issued: IssuedAs | null;
    samples: SampleBytes[];
  }): Promise<FinishPieces | null>;
  picked(order: { recipe: Recipe; samples: SampleBytes[] }): Promise<PickedPieces | null>;
  repetition(order: {
    recipe: Recipe;
    issued?: IssuedAs | null;
    samples: SampleBytes[];
    repeatMm: { width: number; height: number };
    fieldMm: number;
  }): Promise<Repetition>;
  /** The frame of a sample, or an area of it, as a true rectangle; its rows are shared out over all threads. */
  straighten(
    sample: SampleBytes,
    settings: Preparation,
    area: string | null,
    widthPx?: number,
  ): Promise<StraightRows>;
  swatch(order: SwatchOrder): Promise<Swatch>;
  /** Solves and measures a finish, to be issued; what was solved comes compressed. */
  issue(order: IssueOrder): Promise<IssuedFinish>;
  /** What meshes of every spacing leave out of the relief of a finish. */
  reliefDetail(order: DetailOrder): Promise<ReliefToPlan>;
  /** Measures relief and reflectance from a light set. */
  measure(order: MeasureOrder): Promise<MeasuredFiles>;
  recognise(files: { fileName: string; sample: SampleBytes }[]): Promise<Recognised[]>;
  render(
    order: Omit<RenderOrder, 'port' | 'stop'>,
    watch?: { stop: SharedArrayBuffer; onProgress: (progress: number, step: string) => void },
  ): Promise<{ report: RenderReport; files: RenderedFile[] }>;
  close(): Promise<void>;
}

export function openPool(threads: number): RenderPool {
  const file = new URL('./thread.js', import.meta.url);
  if (!existsSync(file))
    throw new Error(`The computing thread is not built: ${file.pathname} is missing. Run npm run build.`);
  const pool = new Piscina({
    filename: file.href,
    minThreads: 1,
    maxThreads: Math.max(1, threads),
    idleTimeout: 600000,
  });
  /** Runs one kind of work; what the thread refused is thrown here again under its name. */
  async function run<T>(name: string, order: unknown, transferList: MessagePort[] = []): Promise<T> {
    const answer = (await pool.run(order, { name, transferList })) as Serialised<T>;
    if ('value' in answer) return answer.value;
    const { message, ...more } = answer.refusal;
    throw Object.assign(new Error(message), more);
  }
  return {
    inspect: (bytes) => run('inspect', { bytes }),
    reliefDetail: (order) => run('reliefDetail', order),
    measure: (order) => run('measure', order),
    level: (sample, level, asData) => run('level', { sample, level, asData }),
    reportPicture: (sample, shows) => run('reportPicture', { sample, shows }),
    structure: (sample, settings) => run('structure', { sample, settings }),
    card: (sample, thoroughly) => run('card', { sample, thoroughly }),
    joints: (sample) => run('joints', { sample }),
    sampleColour: (sample) => run('sampleColour', { sample }),
    palette: (sample, count) => run('palette', { sample, count }),
    glare: (sample, settings) => run('glare', { sample, settings }),
    finishColour: (order) => run('finishColour', order),
    advice: (order) => run('advice', order),
    pieces: (order) => run('pieces', order),
    picked: (order) => run('picked', order),
    repetition: (order) => run('repetition', order),
    async straighten(sample, settings, area, widthPx) {
      const n = Math.max(1, threads);
      const parts = await Promise.all(
        Array.from({ length: n }, (_, k) =>
          run<StraightRows>('straightenRows', {
            sample,
            settings,
            area,
            ...(widthPx ? { widthPx } : {}),
            from: k / n,
            to: (k + 1) / n,
          } satisfies StraightenOrder),
        ),
      );
      return {
        widthPx: parts[0]!.widthPx,
        heightPx: parts.reduce((sum, p) => sum + p.heightPx, 0),
        data: new Uint8Array(Buffer.concat(parts.map((p) => p.data))),
        ms: Math.max(...parts.map((p) => p.ms)),
      };
    },
    swatch: (order) => run('swatch', order),
    issue: (order) => run('issue', order),
    recognise: (files) => run('recognise', { files }),
    async render(order, watch) {
      if (!watch) return run('render', order);
      const { port1, port2 } = new MessageChannel();
      port1.on('message', (m: { progress: number; step: string }) => watch.onProgress(m.progress, m.step));
      try {
        return await run('render', { ...order, stop: watch.stop, port: port2 }, [port2]);
      } finally {
        port1.close();
      }
    },
    close: () => pool.destroy(),
  };
}
