/** @jest-environment ./script/jest-page-environment.cjs */
import { sendSample } from './send-sample';

/** A call of the page that the test answers. */
class Call {
  static last: Call;
  upload: { onprogress?: (e: { lengthComputable: boolean; loaded: number; total: number }) => void } = {};
  onload = () => undefined as void;
  onerror = () => undefined as void;
  status = 0;
  responseText = '';
  sent: FormData | null = null;
  address = '';
  aborted = false;
  constructor() {
    Call.last = this;
  }
  open(method: string, path: string) {
    this.address = `${method} ${path}`;
  }
  send(form: FormData) {
    this.sent = form;
  }
  abort() {
    this.aborted = true;
  }
  answer(status: number, body: string) {
    Object.assign(this, { status, responseText: body });
    this.onload();
  }
}
const real = globalThis.XMLHttpRequest;
beforeEach(() => (globalThis.XMLHttpRequest = Call as never));
afterEach(() => (globalThis.XMLHttpRequest = real));
const file = (size = 10) => {
  const picture = new File(['x'], 'plank.jpg', { type: 'image/jpeg' });
  Object.defineProperty(picture, 'size', { value: size });
  return picture;
};

test('a picture is sent with what is known of its origin, and says how far it is', async () => {
  const shares: number[] = [];
  const { done } = sendSample(file(), { supplier: 'Quellimer', code: '' }, (share) => shares.push(share));
  const call = Call.last;
  expect(call.address).toBe('POST /api/samples');
  expect([...call.sent!.keys()]).toEqual(['supplier', 'file']);
  call.upload.onprogress!({ lengthComputable: true, loaded: 5, total: 10 });
  call.upload.onprogress!({ lengthComputable: false, loaded: 7, total: 0 });
  call.answer(201, '{"id":"s1"}');
  await expect(done).resolves.toEqual({ id: 's1' });
  expect(shares).toEqual([0.5]);
});

test.each([
  [422, '{"detail":"plank.jpg is no picture."}', 'plank.jpg is no picture.'],
  [413, '{}', 'The server answered 413.'],
  [502, '<html>', 'The server answered 502.'],
])('refused with %d, it says why as well as is known', async (status, body, words) => {
  const { done } = sendSample(file(), {}, () => undefined);
  Call.last.answer(status, body);
  await expect(done).rejects.toThrow(words);
});

test('without an answer it says what to do; stopped, the call is ended', async () => {
  const { done, stop } = sendSample(file(), {}, () => undefined);
  stop();
  expect(Call.last.aborted).toBe(true);
  Call.last.onerror();
  await expect(done).rejects.toThrow(/did not answer\. Check that Jossel runs/);
});

test('what is too large is not sent at all', async () => {
  const { done } = sendSample(file(300 * 1024 * 1024), {}, () => undefined);
  await expect(done).rejects.toThrow(/plank\.jpg has 300 MiB; a file may have at most 256 MiB/);
  expect(Call.last.sent).toBeNull();
});
