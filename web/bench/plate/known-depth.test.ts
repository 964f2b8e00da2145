import { defaultRecipe } from '@jossel/core/finish';
import { initialLayout } from '@jossel/core/layout';
import { figure } from '@jossel/core/units';
import { causesOfDepth, LAYOUT_JOINT, withKnownDepth } from './known-depth';

const recipe = () => {
  const r = defaultRecipe(['s1'], 'brick');
  r.relief.contributions = [
    { ...r.relief.contributions[0]!, depthMm: figure(0.4, 'mm', 'assumed') },
    {
      kind: 'joints',
      id: 'j',
      name: 'Joints',
      depthMm: figure(2, 'mm', 'assumed'),
      look: 'lighter',
      widestMm: 12,
      edgeMm: 1,
    },
  ];
  return r;
};
const depthOf = (r: ReturnType<typeof recipe>, id: string) =>
  r.relief.contributions.find((c) => c.id === id)!.depthMm;

test('joints are changed by the difference, the picture is scaled, and both are measured then', () => {
  expect(depthOf(withKnownDepth(recipe(), 'j', 2.2, 3), 'j')).toMatchObject({
    value: 2.8,
    basis: 'measured',
  });
  expect(depthOf(withKnownDepth(recipe(), 'r1', 0.2, 0.3), 'r1').value).toBeCloseTo(0.6, 3);
  expect(depthOf(withKnownDepth(recipe(), 'j', 2.2, 3), 'r1')).toMatchObject({
    value: 0.4,
    basis: 'assumed',
  });
});

test('a depth never goes below nothing, and joints come before the picture as its cause', () => {
  expect(depthOf(withKnownDepth(recipe(), 'j', 4, 1), 'j').value).toBe(0);
  expect(causesOfDepth(recipe()).map((c) => c.value)).toEqual(['j', 'r1']);
});

test('the joint of a layout is the likeliest cause where there is one', () => {
  const laid = { ...recipe(), layout: initialLayout('running') };
  expect(causesOfDepth(laid)[0]!.value).toBe(LAYOUT_JOINT);
  const before = laid.layout.joint.depthMm.value;
  expect(withKnownDepth(laid, LAYOUT_JOINT, before, before + 1.5).layout!.joint.depthMm.value).toBeCloseTo(
    before + 1.5,
    3,
  );
});
