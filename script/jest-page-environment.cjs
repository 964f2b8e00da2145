/** jsdom with what it lacks of a browser and Node has: calls to a server. */
const { TestEnvironment } = require('jest-environment-jsdom');

const FROM_NODE = ['fetch', 'Response', 'Headers', 'TextEncoder', 'TextDecoder', 'structuredClone'];

/** A request of the page: its address may be relative, and its signal is one of jsdom, which Node does not know. */
class PageRequest extends Request {
  constructor(input, { signal: _, ...init } = {}) {
    super(typeof input === 'string' ? new URL(input, 'http://localhost/') : input, init);
  }
}

/** Nothing has a size in jsdom, so nothing changes it. */
class StillObserver {
  observe() {}
  unobserve() {}
  disconnect() {}
}

/** jsdom draws nothing; what would be drawn is looked at in the walks. */
const drawsNothing = new Proxy({}, { get: (set, name) => set[name] ?? (() => drawsNothing) });
class Pixels {
  constructor(data, width, height) {
    Object.assign(this, { data, width, height });
  }
}

class Matrix {
  scale() {
    return this;
  }
  translate() {
    return this;
  }
}

module.exports = class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    for (const name of FROM_NODE) this.global[name] = globalThis[name];
    this.global.Request = PageRequest;
    this.global.ResizeObserver = StillObserver;
    // By another name: React would plan its work by open channels, which keep a test from ending.
    this.global.ChannelOfNode = MessageChannel;
    this.global.ImageData = Pixels;
    this.global.DOMMatrix = Matrix;
    this.global.HTMLCanvasElement.prototype.getContext = (kind) => (kind === '2d' ? drawsNothing : null);
    const { Blob, FileReader } = this.global;
    Blob.prototype.text ??= function () {
      return new Promise((resolve, reject) => {
        const reader = new FileReader();
        reader.onload = () => resolve(reader.result);
        reader.onerror = () => reject(reader.error);
        reader.readAsText(this);
      });
    };
  }
};
