import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import * as s from '@wraithos/core/shot';
import { useDocument, useShot } from '../state/shotStore';
import { aShot, fillIn, opens, shotNow, show } from '../testing/showing';
import { stateOf } from '../tools';
import { EffectSettings } from './EffectSettings';
import { GroupSettings } from './GroupSettings';
import { MatteSettings } from './MatteSettings';

fillIn();
const row = (id: string, more: Partial<s.Row> = {}): s.Edit[] => [
  s.addRow({ id, effect: 'fill', lane: 'whole', subject: null, values: {} }),
  s.changeRow(id, { name: id === 'r8' ? 'Veil' : 'Mist', ...more }),
];

test('a group is laid on as one picture, and has a blend only then', async () => {
  opens(aShot(...row('r8'), ...row('r9'), s.groupRows(['r8', 'r9'], 'g7', 'Air')));
  show(<GroupSettings id="g7" />);
  expect(screen.queryByLabelText('Blend')).toBeNull();
  await userEvent.selectOptions(screen.getByLabelText('Laid on'), 'as one picture');
  expect(shotNow().groups.g7).toMatchObject({ asOne: true, blend: 'normal' });
  await userEvent.selectOptions(screen.getByLabelText('Blend'), 'screen');
  expect(shotNow().groups.g7!.blend).toBe('screen');
  await userEvent.selectOptions(screen.getByLabelText('Laid on'), 'each effect');
  expect(shotNow().groups.g7!.asOne).toBe(false);
  expect(screen.queryByLabelText('Blend')).toBeNull();
});

test('a matte is made of an effect; one that needs the matte is not offered', async () => {
  opens(aShot(s.addMatte({ id: 'k7', name: 'Air', source: 'difference', clip: null }), ...row('r8'), ...row('r9', { matte: 'k7' })));
  const Shown = () => (useDocument().mattes.k7 ? <MatteSettings id="k7" /> : null);
  show(<Shown />);
  await userEvent.selectOptions(screen.getByLabelText('Made from'), 'Effect');
  expect(shotNow().mattes.k7!.sources[0]!.source).toMatchObject({ kind: 'row', row: null });
  const effects = [...screen.getByLabelText<HTMLSelectElement>('Effect').options].map((o) => o.text);
  expect(effects).toContain('Veil');
  expect(effects).not.toContain('Mist');
  await userEvent.selectOptions(screen.getByLabelText('Effect'), 'Veil');
  expect(shotNow().mattes.k7!.sources[0]!.source).toMatchObject({ row: 'r8' });
  // Its own entry is called by the effect.
  expect(screen.getByLabelText('Mute Veil')).toBeTruthy();
});

test('a beam goes along a line that is drawn: the tool is taken in its settings, and the line is listed and removed there', async () => {
  opens(
    aShot(
      s.addRow({ id: 'r7', effect: 'beam', lane: 'whole', subject: null, start: 1001, length: 20, values: {} }),
      s.drawRowLine('r7', 4, [
        [0, 0],
        [50, 9],
      ]),
    ),
  );
  show(<EffectSettings id="r7" />);
  expect(screen.queryByLabelText('Draw its line')).toBeNull();
  await userEvent.selectOptions(screen.getByLabelText('Path'), 'along a drawn line');
  await userEvent.click(screen.getByLabelText('Draw its line'));
  expect(stateOf(useShot.getState().tool, 'draw line')).toMatchObject({ row: 'r7', points: [] });
  await userEvent.click(screen.getByText('Goes here on'));
  expect(useShot.getState().frame).toBe(1005);
  await userEvent.click(screen.getByLabelText('Remove the line of 1005'));
  expect(shotNow().rows.r7!.strokes).toEqual([]);
});
