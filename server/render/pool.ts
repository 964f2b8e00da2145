import { existsSync } from 'node:fs';
import { MessageChannel } from 'node:worker_threads';
import { detachedFromCaller } from '../http/call';
import type { Inspection } from './inspect';
import { IntakeProcess } from './intake-process';
import { Lane } from './lane';
import type { IssueOrder, Rendered, RenderOrder, Swatch, SwatchOrder } from './thread';
import type { DetailOrder } from './relief-detail';
import type { EstimateOrder, WorkEstimate } from './estimate';
import type { ReliefToPlan } from '@jossel/core/schedule';
import type { MeasuredFiles, MeasureOrder } from './measure';
import type { IssuedAs } from './issued';
import type { Recognised, StraightenOrder, StraightRows } from './look';
import type { SampleBytes } from './sources';
import type { Reading, Spot } from './colour';
import type {
  FinishPieces,
  FoundJoints,
  IssuedFinish,
  PickedPieces,
  RelaidPieces,
  Recipe,
  Repetition,
  TriedAdvice,
  TriedMethod,
} from '@jossel/core/finish';
import type { GlarePlace, PaletteColour } from '@jossel/core/light';
import type { Preparation, ReportPicture } from '@jossel/core/sample';
import type { FoundStructure } from '@jossel/core/size';
import type { FoundCard } from '@jossel/core/straighten';

/** Whoever ordered a job: tells when it is not wanted any more, and is told how far it is. */
export interface JobWatch {
  stopped: AbortSignal;
  onProgress: (progress: number, step: string) => void;
}

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
  relaidPieces(order: { recipe: Recipe; samples: SampleBytes[] }): Promise<RelaidPieces>;
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
  /**
   * What computing the maps of a finish takes; null: the bytes of its pictures are needed for that.
   * @param stopped of the job that asks, which waits as long as jobs do; left out: somebody waits for it
   */
  estimate(order: EstimateOrder, stopped?: AbortSignal): Promise<WorkEstimate | null>;
  render(order: Omit<RenderOrder, 'port' | 'stop'>, watch: JobWatch): Promise<Rendered>;
  /** Work that waits for a thread, by lane. */
  waiting(): { asked: number; jobs: number };
  close(): Promise<void>;
}

/** How long work may take, waiting included, ms. */
const LIMIT_MS = 180_000;
const LONG_LIMIT_MS = 900_000;
/** Jobs end when they are stopped; a job that takes a day does not end by itself any more. */
const JOB_LIMIT_MS = 86_400_000;
const MIB = 1024 * 1024;

/**
 * Opens the threads: one lane for what somebody waits for and one for jobs, so that neither keeps the other waiting, and a
 * process of its own for files that come in.
 */
export function openPool(threads: number): RenderPool {
  const file = new URL('./thread.js', import.meta.url);
  if (!existsSync(file))
    throw new Error(`The computing thread is not built: ${file.pathname} is missing. Run npm run build.`);
  const most = Math.max(1, threads);
  const intake = new IntakeProcess(new URL('./intake.js', import.meta.url));
  const asked = new Lane(file, most, 320 * MIB);
  const jobs = new Lane(file, most, 1300 * MIB);
  const run = <T>(name: string, order: unknown) => asked.run<T>(name, order, { limitMs: LIMIT_MS });
  const runLong = <T>(name: string, order: unknown) => asked.run<T>(name, order, { limitMs: LONG_LIMIT_MS });
  return {
    inspect: (bytes) => intake.inspect(bytes),
    reliefDetail: (order) => run('reliefDetail', order),
    measure: (order) => runLong('measure', order),
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
    relaidPieces: (order) => run('relaidPieces', order),
    picked: (order) => run('picked', order),
    repetition: (order) => run('repetition', order),
    async straighten(sample, settings, area, widthPx) {
      const parts = await Promise.all(
        Array.from({ length: most }, (_, k) =>
          run<StraightRows>('straightenRows', {
            sample,
            settings,
            area,
            ...(widthPx ? { widthPx } : {}),
            from: k / most,
            to: (k + 1) / most,
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
    // A small picture is kept for whoever asks next.
    swatch: (order) => detachedFromCaller(() => run('swatch', order)),
    issue: (order) => runLong('issue', order),
    recognise: (files) => run('recognise', { files }),
    estimate: (order, stopped) =>
      stopped
        ? jobs.run('estimate', order, { limitMs: JOB_LIMIT_MS, cancelled: stopped })
        : run('estimate', order),
    render: (order, watch) => runJob(jobs, order, watch),
    waiting: () => ({ asked: asked.waiting, jobs: jobs.waiting }),
    async close() {
      intake.close();
      await Promise.all([asked.close(), jobs.close()]);
    },
  };
}

/** Renders as a job: it tells how far it is, and stops when it is told to. */
async function runJob(
  jobs: Lane,
  order: Omit<RenderOrder, 'port' | 'stop'>,
  { stopped, onProgress }: JobWatch,
): Promise<Rendered> {
  const stop = new SharedArrayBuffer(4);
  const onStopped = () => Atomics.store(new Int32Array(stop), 0, 1);
  stopped.addEventListener('abort', onStopped);
  const { port1, port2 } = new MessageChannel();
  port1.on('message', (m: { progress: number; step: string }) => onProgress(m.progress, m.step));
  try {
    const ending = { limitMs: JOB_LIMIT_MS, cancelled: stopped };
    return await jobs.run('render', { ...order, stop, port: port2 }, ending, [port2]);
  } finally {
    port1.close();
    stopped.removeEventListener('abort', onStopped);
  }
}
