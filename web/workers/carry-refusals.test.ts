import { expose, wrap } from 'comlink';
import { isRefusal, Refusal } from '@jossel/core/surface';
import { carryRefusals } from './carry-refusals';

test('a refusal of a worker keeps its name, its sentence and the setting it is about; other errors stay as they are', async () => {
  carryRefusals();
  const { port1, port2 } = new MessageChannel();
  expose(
    {
      refuse: () => {
        throw new Refusal('too-costly', 'It would take three hours.', 'repeat.composed.copyMm');
      },
      fail: () => {
        throw new TypeError('Not a function.');
      },
    },
    port1,
  );
  const worker = wrap<{ refuse: () => void; fail: () => void }>(port2);
  try {
    const refused: unknown = await worker.refuse().catch((error: unknown) => error);
    expect(isRefusal(refused)).toBe(true);
    expect(refused).toMatchObject({
      message: 'It would take three hours.',
      code: 'too-costly',
      where: 'repeat.composed.copyMm',
    });
    const failed: unknown = await worker.fail().catch((error: unknown) => error);
    expect(failed).toMatchObject({ name: 'TypeError', message: 'Not a function.' });
    expect(failed).not.toHaveProperty('where');
  } finally {
    port1.close();
    port2.close();
  }
});
