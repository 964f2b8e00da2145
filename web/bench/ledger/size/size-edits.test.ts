import {
  NO_SIZE,
  resolveSize,
  sizeKnownBy,
  sizeSchema,
  SIZE_WAYS,
  type FoundStructure,
  type SizeSettings,
} from '@jossel/core/size';
import { makeFrame } from '@jossel/core/straighten';
import { figure } from '@jossel/core/units';
import { rulingBy, without, withoutAssumed } from './size-edits';

const FRAME = makeFrame({ widthPx: 1200, heightPx: 800 }, { bowLines: [], frame: null });
const measured = sizeKnownBy({ overall: figure(600, 'mm', 'measured') }, 'follows');
const beside = (settings: SizeSettings) => ({
  size: resolveSize(settings, FRAME),
  found: { across: { count: 12.5, confidence: 0.9, period: 0.08 }, up: null } as unknown as FoundStructure,
  filePxPerMm: 2.5,
});
const applied = (settings: SizeSettings, change: object) => sizeSchema.parse({ ...settings, ...change });

test.each(SIZE_WAYS)('choosing "%s" leads to settings that hold, or says what it needs first', (way) => {
  for (const axis of ['across', 'up'] as const) {
    const next = rulingBy(measured, axis, way, beside(measured));
    if ('needs' in next) {
      expect(next.needs).toBe(way);
      continue;
    }
    const size = resolveSize(applied(measured, next), FRAME);
    expect(size[axis === 'across' ? 'width' : 'height'].way).toBe(way);
    // Nothing has been typed yet: the size stays, but for what the file says of its resolution.
    expect(size.width.mm).toBeCloseTo(way === 'resolution' && axis === 'across' ? 480 : 600, 0);
  }
});

test('what has been typed for a way is there again when it rules again', () => {
  const counted = applied(measured, rulingBy(measured, 'up', 'count', beside(measured)));
  const typed = { ...counted, count: { ...counted.count, up: { ...counted.count.up!, modules: 7 } } };
  const away = applied(typed, rulingBy(typed, 'up', 'follows', beside(typed)));
  expect(applied(away, rulingBy(away, 'up', 'count', beside(away))).count.up!.modules).toBe(7);
});

test('both axes cannot follow: the other keeps its length, as assumed', () => {
  const next = applied(measured, rulingBy(measured, 'across', 'follows', beside(measured)));
  expect(next.ruling).toEqual({ across: 'follows', up: 'overall' });
  expect(next.overall.up).toEqual({ value: 400, unit: 'mm', basis: 'assumed' });
});

test('taking out the ruling way lets the axis follow, or keeps its length as assumed', () => {
  const both = sizeKnownBy(
    { overall: figure(600, 'mm', 'measured') },
    { overall: figure(410, 'mm', 'measured') },
  );
  const take = (settings: SizeSettings, axis: 'across' | 'up') =>
    applied(
      settings,
      without(
        settings,
        { overall: { ...settings.overall, [axis]: null } },
        'overall',
        resolveSize(settings, FRAME),
        [axis],
      ),
    );
  const counted = applied(both, rulingBy(both, 'up', 'count', beside(both)));
  expect(take(counted, 'across').ruling.across).toBe('follows');
  const alone = take(measured, 'across');
  expect(alone.overall.across).toEqual({ value: 600, unit: 'mm', basis: 'assumed' });
});

test('an assumed size gives way when something better rules; a measured one stays as a cross-check', () => {
  const assumed = sizeKnownBy({ overall: figure(1000, 'mm', 'assumed') }, 'follows');
  const change = {
    ruling: { across: 'resolution', up: 'follows' },
    resolution: figure(2, 'px/mm', 'inferred'),
  };
  expect(withoutAssumed(assumed, change as never).overall!.across).toBeNull();
  expect(withoutAssumed(measured, change as never).overall!.across!.value).toBe(600);
  expect(withoutAssumed(NO_SIZE, {}).overall).toEqual(NO_SIZE.overall);
});
