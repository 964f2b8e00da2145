import { transferHandlers } from 'comlink';
import { isRefusal } from '@jossel/core/surface';

/** What is thrown in a worker keeps its sentence alone on its way to the page; a refusal keeps which setting it is about as well. */
export function carryRefusals(): void {
  const plain = transferHandlers.get('throw')!;
  transferHandlers.set('throw', {
    ...plain,
    serialize(thrown: unknown) {
      const [told, transferred] = plain.serialize(thrown);
      const { value } = thrown as { value: unknown };
      if (isRefusal(value))
        Object.assign((told as { value: object }).value, { code: value.code, where: value.where });
      return [told, transferred];
    },
  });
}
