/** What of WebAssembly the kernels need; every engine that the core runs on has it. */
interface Engine {
  Module: new (bytes: Uint8Array) => object;
  Instance: new (module: object) => { exports: object };
}
const { WebAssembly } = globalThis as unknown as { WebAssembly: Engine };

/** A kernel's functions and its memory. */
export type Kernel<Functions> = Functions & {
  memory: { buffer: ArrayBuffer; grow(pages: number): number };
};

/** A kernel, compiled when it is first needed. @param hex its module, as `npm run kernels` writes it */
export class KernelModule<Functions> {
  private compiled: object | undefined;
  private kept: Kernel<Functions> | undefined;
  constructor(private readonly hex: string) {}

  /**
   * An instance that is the caller's until it gives it back.
   * @param bytes how much of its memory is to be used
   */
  borrow(bytes: number): Kernel<Functions> {
    const kernel = this.kept ?? this.ofItsOwn();
    this.kept = undefined;
    makeRoom(kernel, bytes);
    return kernel;
  }

  /** Small instances are used again; one that is never given back is freed with whoever borrowed it. */
  giveBack(kernel: Kernel<Functions>): void {
    if (kernel.memory.buffer.byteLength <= KEPT_BYTES) this.kept = kernel;
  }

  /** An instance for one caller alone. */
  ofItsOwn(): Kernel<Functions> {
    this.compiled ??= new WebAssembly.Module(
      Uint8Array.from({ length: this.hex.length / 2 }, (_, i) =>
        parseInt(this.hex.slice(2 * i, 2 * i + 2), 16),
      ),
    );
    return new WebAssembly.Instance(this.compiled).exports as Kernel<Functions>;
  }
}

/** Grows a kernel's memory to at least so many bytes; views of it made before are then empty. */
export function makeRoom({ memory }: Kernel<unknown>, bytes: number): void {
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / 65536));
}

/** Memory never shrinks: what is larger is freed with its instance. */
const KEPT_BYTES = 64 << 20;

/** Lays arrays out one after another in a kernel's memory, each at a multiple of 16 bytes. */
export class MemoryLayout {
  private end = 1024; // the first page's start is left to the compiler
  /** @returns the address of an array of 32-bit numbers */
  of(length: number): number {
    const at = this.end;
    this.end = at + ((4 * length + 15) & ~15);
    return at;
  }
  get bytes(): number {
    return this.end;
  }
}
