import { initialLayout } from '@jossel/core/layout';
import { figure } from '@jossel/core/units';
import { layoutFor } from './layout-for';

test('another bond keeps pieces and joints; lengths of its own go along with the size of the pieces', () => {
  const small = {
    ...initialLayout('running'),
    piece: { lengthMm: figure(45, 'mm', 'measured'), widthMm: figure(40, 'mm', 'measured') },
  };
  const fans = layoutFor('setts-fans', small);
  expect(fans.piece).toEqual(small.piece);
  expect(fans.joint).toEqual(small.joint);
  // Fans of 1400 mm go with setts of 90 mm.
  expect(fans.bond).toMatchObject({ kind: 'setts-fans', fanMm: 700 });
  expect(layoutFor('hexagon', null)).toEqual(initialLayout('hexagon'));
});
