import { Budget } from './budget';

const HOUR = 3_600_000;

test('whoever finds too little left waits in turn, and gets it once it is given back', async () => {
  const budget = new Budget(10);
  const first = (await budget.take(7, HOUR))!;
  const order: string[] = [];
  const large = budget.take(6, HOUR).then((back) => (order.push('large'), back!));
  const small = budget.take(1, HOUR).then((back) => (order.push('small'), back!));
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(order).toEqual([]);
  first();
  (await large)();
  (await small)();
  expect(order).toEqual(['large', 'small']);
  // Giving back twice does not make more of it.
  first();
  const all = (await budget.take(10, HOUR))!;
  expect(await budget.take(1, 20)).toBeNull();
  all();
});

test('more than there is, is all of it, alone; who gives up waiting does not hold up those behind', async () => {
  const budget = new Budget(10);
  const some = (await budget.take(3, HOUR))!;
  const tooMuch = budget.take(99, 40);
  const behind = budget.take(5, HOUR);
  expect(await tooMuch).toBeNull();
  (await behind)!();
  some();
  expect(await budget.take(99, HOUR)).not.toBeNull();
});
