import { act, screen } from '@testing-library/react';
import * as s from '@wraithos/core/shot';
import { heldKey } from '../workbench/useChecks';
import { PlatesPanel } from '../steps/PlatesPanel';
import { useShot } from '../state/shotStore';
import { aShot, fillIn, opens, show } from '../testing/showing';
import { LongList } from './LongList';

fillIn();
const items = (n: number) => Array.from({ length: n }, (_, i) => ({ id: `c${i}` }));

test('a short list is drawn as it is; of a long one only what is in sight, in a box as high as all of it', () => {
  const { container, rerender } = show(
    <LongList items={items(5)} size={20} pad={4} draw={(it, top) => <i key={it.id} style={{ top }} />} />,
  );
  expect([...container.querySelectorAll('i')].map((i) => i.style.top)).toEqual(['4px', '24px', '44px', '64px', '84px']);
  rerender(<LongList items={items(400)} size={20} draw={(it, top) => <i key={it.id} style={{ top }} />} />);
  expect(container.querySelectorAll('i').length).toBeLessThan(60);
  expect((container.querySelector('.long-list > div') as HTMLElement).style.height).toBe('8000px');
});

test('a clip that the store does not hold is marked in the list, with the reason', () => {
  const shot = aShot();
  opens(shot);
  act(() => useShot.setState({ id: 'x1' }));
  show(<PlatesPanel />, { [heldKey('x1', shot)]: [{ clip: 'c1', held: null }] });
  expect(screen.getByTitle('walk is not in the store.').textContent).toBe('!');
  expect(screen.queryByTitle(/empty street is/)).toBeNull();
});

test('a later part of a clip says whose it is', () => {
  opens(aShot(s.splitClip(aShot(), 'c1', 1040, 'c9')));
  show(<PlatesPanel />);
  expect(screen.getByText('Later part of walk')).toBeTruthy();
});
