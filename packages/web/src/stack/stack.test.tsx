import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import * as s from '@wraithos/core/shot';
import { laneTitles } from '@wraithos/core/effects';
import { useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { DepthStack } from './DepthStack';

fillIn();
const rowsShown = () => [...document.querySelectorAll('.row-item')].map((el) => el.getAttribute('aria-label'));
const take = (name: string) => document.querySelector<HTMLElement>(`.row-item[aria-label="${name}"] .row-take`)!;
const order = (a: Element, b: Element) => !!(a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_FOLLOWING);

test('lanes stand from near to far, with the subject between what is before and behind it', () => {
  opens();
  show(<DepthStack onStockroom={() => undefined} />);
  const lane = (name: keyof typeof laneTitles) => screen.getByRole('region', { name: laneTitles[name] }),
    subject = screen.getByText('Walker').closest('button')!,
    all = [lane('whole'), lane('foreground'), lane('front'), subject, lane('on'), lane('behind'), lane('background')];
  for (let i = 1; i < all.length; i++) expect(order(all[i - 1]!, all[i]!)).toBe(true);
  expect(rowsShown()).toEqual(['Blur', 'Glow']);
  expect(screen.getByText('clean plate where the subject is gone')).toBeTruthy();
});

test('a row is selected by its name, muted and soloed by its buttons without being selected', async () => {
  opens();
  show(<DepthStack onStockroom={() => undefined} />);
  await userEvent.click(screen.getByLabelText('Mute Glow'));
  expect(shotNow().rows.r1!.muted).toBe(true);
  expect(screen.getByLabelText('Unmute Glow')).toBeTruthy();
  await userEvent.click(screen.getByLabelText('Solo Blur'));
  expect(shotNow().rows.r2!.solo).toBe(true);
  await userEvent.click(take('Glow'));
  expect(useShot.getState().selection).toEqual({ kind: 'row', id: 'r1' });
});

test('Enter selects a row that has the focus; Space takes hold of it', async () => {
  opens();
  show(<DepthStack onStockroom={() => undefined} />);
  take('Blur').focus();
  await userEvent.keyboard('{Enter}');
  expect(useShot.getState().selection).toEqual({ kind: 'row', id: 'r2' });
  fireEvent.keyDown(take('Blur'), { code: 'Space' });
  await waitFor(() => expect(take('Blur').getAttribute('aria-pressed')).toBe('true'));
});

test('an effect is added to a lane from its menu, hung on the track, and selected; only effects that work there are offered', async () => {
  opens();
  show(<DepthStack onStockroom={() => undefined} />);
  const front = screen.getByRole('region', { name: laneTitles.front });
  await userEvent.click(within(front).getByLabelText(`Add an effect to ${laneTitles.front}`));
  const offered = within(front)
    .getAllByRole('button')
    .map((b) => b.textContent ?? '');
  expect(offered.some((t) => t.startsWith('Dissolve'))).toBe(false);
  await userEvent.click(within(front).getByText('Ember', { exact: true }));
  const made = Object.values(shotNow().rows).find((r) => r.effect === 'ember')!;
  expect(made).toMatchObject({ lane: 'front', subject: 's1' });
  expect(shotNow().mounts[made.mount!]!.track).toBe('t1');
  expect(useShot.getState().selection).toEqual({ kind: 'row', id: made.id });
});

test('a row says where it hangs, how many twins it has and that a check flags it', () => {
  opens(
    aShot(
      s.addTrack({ id: 't2', name: 'Pin', clip: 'c1', at: [100, 100], frame: 0 }),
      s.addTwin('r1', 't2'),
      s.addRow({ id: 'r3', effect: 'dissolve', lane: 'on', subject: 's1', track: 't1' }),
      s.remove('clip', 'c2'),
    ),
  );
  show(<DepthStack onStockroom={() => undefined} />);
  const item = (name: string) => document.querySelector(`.row-item[aria-label="${name}"]`)!;
  expect(item('Glow').textContent).toContain('Lantern and 1 twin');
  expect(item('Dissolve').querySelector('.warn')).not.toBeNull();
  expect(item('Blur').querySelector('.warn')).toBeNull();
  expect(screen.getByText('no clean plate')).toBeTruthy();
});

test('without a subject the stack says how to make one, and makes it', async () => {
  opens(aShot(s.remove('subject', 's1')));
  show(<DepthStack onStockroom={() => undefined} />);
  await userEvent.click(screen.getByText('Make one'));
  expect(Object.values(shotNow().subjects).map((x) => x.clip)).toEqual(['c1']);
});
