import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import * as s from '@wraithos/core/shot';
import { useShot, type Told } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { steps, stepOf } from '../steps';
import { HelpDialog } from './HelpDialog';
import { SaveState } from './SaveState';

fillIn();
const now = () => useShot.getState();

test('offline it is said how many changes wait, since when, and whether they are safe', () => {
  opens();
  const since = new Date(2026, 0, 1, 14, 2);
  for (const [kept, count, words] of [
    ['yes', 521, 'offline: 521 changes since 14:02 kept here'],
    ['writing', 1, 'offline: 1 change since 14:02 being kept'],
    ['no', 2, 'offline: 2 changes since 14:02 only in this page; do not close it'],
  ] as const) {
    useShot.setState({ save: 'offline', waiting: { count, since, kept, reason: 'No answer.' } });
    const { unmount } = show(<SaveState />),
      status = screen.getByRole('status', { name: 'Saving' });
    expect(status.textContent).toBe(words);
    expect(status.title).toContain('No answer.');
    unmount();
  }
});

test('whoever removes a track is told at once what else changed, and Undo brings all of it back', () => {
  opens(aShot(s.addTwin('r1', 't1')));
  const before = shotNow();
  now().set({ selection: { kind: 'track', id: 't1' } });
  now().remove('track', 't1');
  expect(shotNow().tracks).toEqual({});
  expect(shotNow().rows.r1).toMatchObject({ mount: null });
  expect(now().selection).toBeNull();
  const notice = now().notice as Told;
  expect(notice.text).toMatch(/^Removed track Lantern\. .*Glow/);
  expect(notice.action!.label).toBe('Undo');
  notice.action!.run();
  expect(shotNow()).toEqual(before);
  expect(now().notice).toBeNull();
});
test('the Undo of a notice does not take back what was done after it', () => {
  opens();
  now().remove('track', 't1');
  const notice = now().notice as Told;
  now().edit(s.changeRow('r2', { name: 'Soft' }));
  notice.action!.run();
  expect(shotNow().rows.r2!.name).toBe('Soft');
  expect(shotNow().tracks).toEqual({});
});
test('what nothing depends on goes without a word', () => {
  opens();
  now().remove('row', 'r2');
  expect(shotNow().rows.r2).toBeUndefined();
  expect(now().notice).toBeNull();
});
test('an edit that cannot be made says so and changes nothing', () => {
  opens();
  const before = shotNow();
  now().edit(s.changeRow('gone', { length: 4 }));
  expect(shotNow()).toBe(before);
  expect(now().notice).toBeTruthy();
});

test('every step has a place, a title and a word for the beginner; help tells them in their order', () => {
  opens();
  expect(new Set(steps.map((step) => step.id)).size).toBe(steps.length);
  for (const step of steps) {
    expect(step.about).toMatch(/^[A-Z].*\.$/);
    // A step has a page of its own, or a list and a picture.
    expect(!!step.Page || !!step.List).toBe(true);
  }
  expect(stepOf('no such step').id).toBe('effects');
  show(<HelpDialog onClose={() => undefined} />);
  const terms = within(screen.getByRole('dialog')).getAllByRole('term');
  expect(terms.map((t) => t.textContent)).toEqual(steps.map((step) => step.title));
});
test('the settings of every kind of thing belong to a step', () => {
  const kinds = ['clip', 'track', 'matte', 'row', 'cue', 'subject', 'group'] as const;
  for (const kind of kinds) expect([kind, steps.some((step) => step.settles.includes(kind))]).toEqual([kind, true]);
});
test('what is set aside is counted and shown', async () => {
  opens();
  useShot.setState({
    aside: [
      {
        shot: 'x',
        code: 'TW_010',
        base: 1,
        reason: 'too long',
        when: new Date().toISOString(),
        edits: [{ name: 'Rename', kind: 'do', patches: [], inverse: [] }],
      },
    ],
  });
  show(<SaveState />);
  await userEvent.click(screen.getByText('1 set aside'));
  expect(screen.getByRole('dialog').textContent).toContain('too long');
});
