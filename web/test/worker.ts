import { expose } from 'comlink';

/** Of the environment of these tests. */
declare const ChannelOfNode: typeof MessageChannel;

/** Every worker that the page starts in a test file answers with these. */
export function answerAsWorker(answers: object): void {
  const ports: MessagePort[] = [];
  const channel = () => {
    const made = new ChannelOfNode();
    ports.push(made.port1);
    return made;
  };
  // Handlers that are passed to a worker go through channels of their own.
  globalThis.MessageChannel = class {
    constructor() {
      return channel();
    }
  } as unknown as typeof MessageChannel;
  globalThis.Worker = class {
    constructor() {
      const { port1, port2 } = channel();
      expose(answers, port2);
      return port1;
    }
  } as unknown as typeof Worker;
  // An open port keeps the process from ending.
  afterAll(() => ports.forEach((port) => port.close()));
}
