import { act, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import * as s from '@wraithos/core/shot';
import { useMatteDoubts } from '../steps/matteDoubts';
import { useOutlinePoints } from '../state/outlinePoints';
import { useDocument, useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { MatteSettings } from './MatteSettings';

fillIn();
const Shown = () => (useDocument().mattes.k2 ? <MatteSettings id="k2" /> : null),
  matte = () => shotNow().mattes.k2!,
  begin = (...more: s.Edit[]) => {
    opens(aShot(s.addMatte({ id: 'k2', name: 'Coat', source: 'difference', clip: null }), ...more));
    useMatteDoubts.setState({ matte: null, doubts: [], running: null, error: null });
    show(<Shown />);
  },
  section = (name: string) => within(screen.getByRole('region', { name }));

test('a second source is added, gets a mode, is solo, moves up and goes; each is one step to undo', async () => {
  begin();
  await userEvent.click(screen.getByText('Add a source'));
  await userEvent.click(await screen.findByText('Another matte'));
  expect(matte().sources.map(({ source }) => source.kind)).toEqual(['difference', 'matte']);
  // It takes the first matte that is there, and shows its own settings.
  expect(matte().sources[1]!.source).toMatchObject({ matte: 'k1' });
  await userEvent.selectOptions(screen.getByLabelText('Mode'), 'Takes an area away');
  expect(matte().sources[1]!.mode).toBe('take away');
  await userEvent.click(section('Sources').getByLabelText('Solo Body'));
  expect(matte().sources[1]!.solo).toBe(true);
  await userEvent.click(section('Sources').getAllByLabelText('Move up')[1]!);
  expect(matte().sources.map(({ id }) => id)).toEqual(['s2', 's1']);
  await userEvent.click(section('Sources').getByLabelText('Remove Body'));
  expect(matte().sources.map(({ id }) => id)).toEqual(['s1']);
  for (let i = 0; i < 5; i++) act(() => useShot.getState().undo());
  expect(matte().sources).toHaveLength(1);
});
test('the difference without a clean plate says what to do', () => {
  begin(s.remove('clip', 'c2'));
  expect(screen.getByText(/There is no clean plate/)).toBeTruthy();
});
test('refinements are added, set, muted, moved and removed', async () => {
  begin();
  const refine = () => matte().refine.map(({ kind }) => kind);
  await userEvent.click(section('Refine').getByText('Add'));
  await userEvent.click(await screen.findByText("Follow the picture's edges"));
  expect(refine()).toEqual(['despeckle', 'fill holes', 'grow', 'blur', 'follow edges']);
  const field = screen.getByLabelText('Looks within');
  await userEvent.clear(field);
  await userEvent.type(field, '20{Enter}');
  expect(matte().refine[4]).toMatchObject({ radius: 20 });
  const more = async (what: string) => {
    await userEvent.click(screen.getByLabelText("More of Follow the picture's edges"));
    await userEvent.click(within(document.querySelector<HTMLElement>('.dropdown-menu.show')!).getByText(what));
  };
  await more('Move up');
  expect(refine()).toEqual(['despeckle', 'fill holes', 'grow', 'follow edges', 'blur']);
  await more('Mute');
  expect(matte().refine[3]!.muted).toBe(true);
  await more('Remove');
  expect(refine()).toEqual(['despeckle', 'fill holes', 'grow', 'blur']);
});
test('doubtful frames that were found are listed, and a press goes there', async () => {
  begin();
  act(() =>
    useMatteDoubts.setState({
      matte: matte(),
      doubts: [
        { frame: 1017, reason: 'has a hole', size: 0.02 },
        { frame: 1030, reason: 'flickers', size: 0.03 },
      ],
    }),
  );
  const list = () =>
    within(screen.getByRole('list', { name: 'Doubtful frames of the matte' }))
      .getAllByRole('listitem')
      .map((li) => li.textContent);
  expect(list()).toEqual(['1017 has a hole', '1030 flickers']);
  await userEvent.click(screen.getByText('flickers', { exact: false }));
  expect(useShot.getState().frame).toBe(1030);
});

test('an outline is made simpler, broken at two points and joined again; each is one step to undo', async () => {
  const box: [number, number][] = [
    [100, 100],
    [150, 100],
    [200, 100],
    [200, 200],
    [100, 200],
  ];
  begin(s.addOutline('k2', 'add', box, 0));
  act(() => useShot.setState({ outline: 'o1' }));
  await userEvent.click(screen.getByText('Simplify'));
  const points = () => matte().outlines.map((o) => o.keys[0]!.vertices.length);
  expect(points()).toEqual([4]);
  expect(useShot.getState().notice).toBe('1 of 5 points went; the line moved by less than 1 px.');
  expect(screen.getByText<HTMLButtonElement>('Break').disabled).toBe(true);
  act(() => useOutlinePoints.setState({ points: [0, 2] }));
  await userEvent.click(screen.getByText('Break'));
  expect(points()).toEqual([3, 3]);
  await userEvent.click(screen.getByText('Join'));
  await userEvent.click(within(document.querySelector<HTMLElement>('.dropdown-menu.show')!).getByText('Outline 2'));
  expect(points()).toEqual([8]);
  for (let i = 0; i < 3; i++) act(() => useShot.getState().undo());
  expect(points()).toEqual([5]);
});
test('a matte becomes a named part of a subject', async () => {
  begin();
  await userEvent.selectOptions(screen.getByLabelText('Part of'), 'Walker');
  expect(matte().part).toBe('s1');
});

test('painted strokes are listed by their frames; a press goes there, and they can be removed', async () => {
  const stroke = { mode: 'add' as const, radius: 9, softness: 0, points: [[30, 30] as [number, number]] };
  begin(
    s.paintMatte('k2', { ...stroke, first: 12, last: 12 }),
    s.paintMatte('k2', { ...stroke, first: 12, last: 12 }),
    s.paintMatte('k2', { ...stroke, first: 20, last: 95 }),
  );
  await userEvent.click(section('Paint').getByText('1013'));
  expect(useShot.getState().frame).toBe(1013);
  expect(section('Paint').getByText('1021 to 1096')).toBeTruthy();
  await userEvent.click(section('Paint').getByLabelText('Paint out what is too much'));
  expect(useShot.getState().tool).toMatchObject({ kind: 'paint matte', state: { matte: 'k2', mode: 'take away', span: 'this frame' } });
  await userEvent.selectOptions(section('Paint').getByLabelText('Counts on'), 'all frames');
  expect(useShot.getState().tool).toMatchObject({ state: { span: 'all frames' } });
  await userEvent.click(section('Paint').getByLabelText('Remove what was painted on 1013'));
  expect(matte().painted).toHaveLength(1);
});

test("a cut-out is laid on a colour of one's own", async () => {
  begin();
  act(() => useShot.setState({ matteView: 'cut out', matteGround: 'grey' }));
  await userEvent.selectOptions(screen.getByLabelText('Laid on'), 'a colour');
  expect(useShot.getState().matteGround).toMatch(/^#[0-9a-f]{6}$/);
  expect(screen.getByLabelText('Its colour')).toBeTruthy();
  await userEvent.selectOptions(screen.getByLabelText('Laid on'), 'white');
  expect(useShot.getState().matteGround).toBe('white');
  expect(screen.queryByLabelText('Its colour')).toBeNull();
});
