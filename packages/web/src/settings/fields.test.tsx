import { jest } from '@jest/globals';
import { fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { fillIn } from '../testing/showing';
import { ChoiceField, ColourField, FieldScope, NumberField, PairField, type NumberFieldProps } from './fields';

fillIn();
function number(props: Partial<NumberFieldProps> = {}) {
  const onChange = jest.fn<(v: number) => void>(),
    onPreview = jest.fn<(v: number) => void>();
  render(<NumberField label="Reach" value={10} unit="px" range={[0, 100]} onChange={onChange} onPreview={onPreview} {...props} />);
  return { onChange, onPreview, input: screen.getByLabelText<HTMLInputElement>('Reach'), label: screen.getByText('Reach') };
}
const type = async (input: HTMLElement, text: string) => {
  await userEvent.clear(input);
  await userEvent.type(input, text);
};

test('a number is typed, also as arithmetic, and kept within its range; what is no number changes nothing', async () => {
  const { input, onChange } = number();
  await type(input, '20 + 5{Enter}');
  expect(onChange).toHaveBeenLastCalledWith(25);
  await type(input, '900{Enter}');
  expect(onChange).toHaveBeenLastCalledWith(100);
  onChange.mockClear();
  await type(input, 'wide{Enter}');
  expect(onChange).not.toHaveBeenCalled();
  expect(input.value).toBe('10');
});
test('Escape gives up what was typed, leaving the field takes it', async () => {
  const { input, onChange } = number();
  await type(input, '44{Escape}');
  expect(onChange).not.toHaveBeenCalled();
  expect(input.value).toBe('10');
  await type(input, '45');
  await userEvent.tab();
  expect(onChange).toHaveBeenCalledWith(45);
});
test('arrow keys go by a step, fine with Shift, coarse with Alt', async () => {
  const { input, onChange } = number({ step: 2 });
  await userEvent.click(input);
  for (const [keys, to] of [
    ['{ArrowUp}', 12],
    ['{ArrowDown}', 8],
    ['{Shift>}{ArrowUp}{/Shift}', 10.2],
    ['{Alt>}{ArrowDown}{/Alt}', 0],
  ] as const) {
    await userEvent.keyboard(keys);
    expect(onChange).toHaveBeenLastCalledWith(to);
  }
});
test('the label is dragged: previews on the way, one change at the end', () => {
  const { label, onChange, onPreview } = number({ step: 1 });
  fireEvent.pointerDown(label, { button: 0, clientX: 100, pointerId: 1 });
  fireEvent.pointerMove(label, { clientX: 120, pointerId: 1 });
  fireEvent.pointerMove(label, { clientX: 140, pointerId: 1 });
  expect(onPreview.mock.calls.map(([v]) => v)).toEqual([20, 30]);
  expect(onChange).not.toHaveBeenCalled();
  fireEvent.pointerUp(label, { pointerId: 1 });
  expect(onChange.mock.calls).toEqual([[30]]);
});
test('the marks beside a value lead back to the usual one and make a curve', async () => {
  const onReset = jest.fn(),
    onCurve = jest.fn();
  number({ changed: true, onReset, onCurve });
  await userEvent.click(screen.getByLabelText('Reset Reach'));
  await userEvent.click(screen.getByLabelText('Reach over time'));
  expect([onReset, onCurve].map((f) => f.mock.calls.length)).toEqual([1, 1]);
});
test('two forms on one page have fields of their own', () => {
  render(
    <>
      <NumberField label="Size" value={1} onChange={() => undefined} />
      <FieldScope.Provider value="w1 ">
        <NumberField label="Size" value={2} onChange={() => undefined} />
      </FieldScope.Provider>
    </>,
  );
  expect(screen.getAllByLabelText<HTMLInputElement>('Size').map((el) => [el.id, el.value])).toEqual([
    ['field-size', '1'],
    ['field-w1-size', '2'],
  ]);
});
test('a choice tells its words and hands on its value', async () => {
  const onChange = jest.fn();
  render(
    <ChoiceField label="Spread" value="radius" of={['radius', 'direction']} words={{ direction: 'along a line' }} onChange={onChange} />,
  );
  await userEvent.selectOptions(screen.getByLabelText('Spread'), 'along a line');
  expect(onChange).toHaveBeenCalledWith('direction');
});
test('a colour is previewed while it is chosen and changed once', () => {
  const onChange = jest.fn(),
    onPreview = jest.fn();
  render(<ColourField label="Rim" value="#ff0000" onChange={onChange} onPreview={onPreview} />);
  const input = screen.getByLabelText<HTMLInputElement>('Rim');
  fireEvent.input(input, { target: { value: '#00ff00' } });
  fireEvent.input(input, { target: { value: '#00ff10' } });
  expect(onPreview.mock.calls.flat()).toEqual(['#00ff00', '#00ff10']);
  expect(onChange).not.toHaveBeenCalled();
  input.dispatchEvent(new Event('change'));
  expect(onChange.mock.calls).toEqual([['#00ff10']]);
});
test('a place has a field for each direction, and the other one stays', async () => {
  const onChange = jest.fn();
  render(<PairField label="Place" value={[12, -40]} unit="px" onChange={onChange} />);
  await type(screen.getByLabelText('Place down'), '-8 * 2{Enter}');
  expect(onChange).toHaveBeenCalledWith([12, -16]);
});
