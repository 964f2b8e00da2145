import type { Sample } from '../../../app/api';
import { infoOf } from '../../use-drawn';
import { sampleWorker } from '../../use-sample';

type Card = NonNullable<Awaited<ReturnType<ReturnType<typeof sampleWorker>['card']>>>;

/**
 * Looks for the target card in the picture of a sample, and says how that goes.
 * @param insteadDo What can be done where no card is seen: the end of "…, or draw a ruler line."
 * @returns The card, or null where none is seen or it could not be looked for.
 */
export async function lookForCard(
  sample: Sample,
  insteadDo: string,
  say: (text: string) => void,
): Promise<Card | null> {
  say('Looking for the card …');
  try {
    const card = await sampleWorker().card(infoOf(sample));
    say(
      card
        ? ''
        : `No target card is seen with all four of its ring marks. Take the picture with the whole card in it, or ${insteadDo}.`,
    );
    return card;
  } catch (error) {
    say((error as Error).message);
    return null;
  }
}
