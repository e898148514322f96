import { act } from '@testing-library/react';
import { changeRow } from '@wraithos/core/shot';
import { fillIn, opens, show } from '../testing/showing';
import { useParts, useShot } from './shotStore';

fillIn();

test('a component that names parts of the state is drawn anew with those, and with no others', () => {
  let drawn = 0;
  const Reads = () => {
    const { frame, selection } = useParts('frame', 'selection');
    drawn++;
    return <p>{`${frame} ${selection?.id ?? 'nothing'}`}</p>;
  };
  opens();
  show(<Reads />);
  const first = drawn;
  act(() => useShot.setState({ save: 'saving' }));
  act(() => useShot.getState().edit(changeRow('r1', { opacity: 40 })));
  act(() => useShot.setState({ frame: useShot.getState().frame }));
  expect(drawn).toBe(first);
  act(() => useShot.setState({ frame: 1020 }));
  expect(drawn).toBe(first + 1);
  expect(document.body.textContent).toContain('1020 nothing');
});
