import { existsSync } from 'node:fs';
import { MessageChannel, type MessagePort } from 'node:worker_threads';
import Piscina from 'piscina';
import type { Inspection, RenderedFile, RenderOrder, Told } from './thread';
import type { SampleBytes } from './sources';
import type { RenderReport } from '@jossel/core/finish';

/** The threads of this process that compute. */
export interface RenderPool {
  inspect(bytes: Uint8Array): Promise<Inspection>;
  level(
    sample: SampleBytes,
    level: number,
    asData: boolean,
  ): Promise<{ widthPx: number; heightPx: number; planes: Uint8Array }>;
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
    const answer = (await pool.run(order, { name, transferList })) as Told<T>;
    if ('value' in answer) return answer.value;
    throw Object.assign(new Error(answer.refusal.message), { name: answer.refusal.name });
  }
  return {
    inspect: (bytes) => run('inspect', { bytes }),
    level: (sample, level, asData) => run('level', { sample, level, asData }),
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
