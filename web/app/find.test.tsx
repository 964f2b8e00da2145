/** @jest-environment ./script/jest-page-environment.cjs */
import { act, screen, waitFor } from '@testing-library/react';
import { useNavigate } from 'react-router';
import { show } from '../test/page';
import { useFind } from './find';

function Box() {
  const { words, type, go } = useFind();
  const navigate = useNavigate();
  return (
    <>
      <input aria-label="find" value={words} onChange={(e) => type(e.target.value)} />
      <button onClick={go}>Go</button>
      <button onClick={() => void navigate('/rack?find=slate&state=issued')}>Link</button>
      <button onClick={() => void navigate(-1)}>Back</button>
    </>
  );
}
const box = () => screen.getByRole<HTMLInputElement>('textbox', { name: 'find' });

test('on the rack the address follows what is typed, and keeps what else it says', async () => {
  const { user, address } = show(<Box />, { at: '/rack?state=issued' });
  await user.type(box(), 'oak strip');
  await waitFor(() => expect(address()).toBe('/rack?state=issued&find=oak+strip'));
  expect(box().value).toBe('oak strip');
  await user.clear(box());
  await waitFor(() => expect(address()).toBe('/rack?state=issued'));
});

test('elsewhere nothing moves until it is asked for; then the rack opens with the words', async () => {
  const { user, address, press } = show(<Box />, { at: '/bench/f?section=size' });
  await user.type(box(), '  moss ');
  await act(() => new Promise((soon) => setTimeout(soon, 300)));
  expect(address()).toBe('/bench/f?section=size');
  await press('Go');
  expect(address()).toBe('/rack?find=moss');
});

test('a link and going back bring their own words', async () => {
  const { user, address, press } = show(<Box />, { at: '/rack?find=oak' });
  expect(box().value).toBe('oak');
  await press('Link');
  expect(box().value).toBe('slate');
  await press('Back');
  expect(box().value).toBe('oak');
  // Words that were typed meanwhile do not cling to another address.
  await user.type(box(), 's of ash');
  await waitFor(() => expect(address()).toMatch(/find=oaks\+of\+ash/));
  await press('Link');
  expect(box().value).toBe('slate');
});

test('asked for with no words the rack shows all', async () => {
  const { press, address } = show(<Box />, { at: '/projects' });
  await press('Go');
  expect(address()).toBe('/rack');
});
