import { expose } from 'comlink';

/** Of the environment of these tests. */
declare const ChannelOfNode: typeof MessageChannel;

/** Every worker that the page starts in a test file answers with these. */
export function answerAsWorker(answers: object): void {
  const ports: MessagePort[] = [];
  globalThis.Worker = class {
    constructor() {
      const { port1, port2 } = new ChannelOfNode();
      expose(answers, port2);
      ports.push(port1);
      return port1;
    }
  } as unknown as typeof Worker;
  // An open port keeps the process from ending.
  afterAll(() => ports.forEach((port) => port.close()));
}
