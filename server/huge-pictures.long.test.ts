import { execFileSync } from 'node:child_process';
import sharp from 'sharp';
import { serve, type TestServer } from './test/serve';

/** What small files of huge pictures make of the memory. */

let jossel: TestServer;
beforeAll(async () => {
  jossel = await serve({ JOSSEL_THREADS: '1' });
});
afterAll(() => jossel.end());

/** Memory of the server and its processes, MB. */
function residentMb(): number {
  const pid = String(jossel.process.pid);
  const lines = execFileSync('ps', ['-o', 'rss=', '--pid', pid, '--ppid', pid]).toString().trim().split('\n');
  return lines.reduce((sum, kb) => sum + Number(kb) / 1024, 0);
}

test('a small file of a huge picture is imported within a memory limit, one after the other, and the memory is freed', async () => {
  const huge = await sharp({
    create: { width: 9000, height: 9000, channels: 3, background: '#806040' },
  })
    .png()
    .toBuffer();
  const before = residentMb();
  let most = 0;
  const watch = setInterval(() => (most = Math.max(most, residentMb())), 100);
  const answers = await Promise.all([0, 1].map(() => jossel.upload('huge.png', huge)));
  clearInterval(watch);
  expect(answers.map(({ status }) => status)).toEqual([201, 201]);
  expect(answers[0]!.body['widthPx']).toBe(9000);
  expect(most - before).toBeLessThan(1600);
  const { id } = answers[0]!.body;
  const whole = await jossel.call<{ detail: string }>('GET', `/api/samples/${id}/levels/0`);
  expect([whole.status, whole.body.detail]).toEqual([413, expect.stringMatching(/Ask for level 1/)]);
  const small = await fetch(`${jossel.url}/api/samples/${id}/levels/5`);
  expect([small.status, small.headers.get('x-width-px')]).toEqual([200, '282']);
  await small.arrayBuffer();
  await jossel.until('the memory is given back', async () => residentMb() < before + 200);
});
