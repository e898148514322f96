import { jest } from '@jest/globals';
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Dropdown } from 'react-bootstrap';
import { fillIn, show } from '../testing/showing';
import { ConfirmDialog } from './ConfirmDialog';
import { JobLine } from './JobLine';
import { Menu } from './Menu';
import { NameDialog } from './NameDialog';
import { Notice } from './Notice';

fillIn();

test('a notice offers what can be done, and goes only when it is closed', async () => {
  const onAction = jest.fn(),
    onClose = jest.fn();
  show(<Notice text="Removed track Lantern. Effect Glow hangs on nothing now." action="Undo" onAction={onAction} onClose={onClose} />);
  expect(screen.getByRole('status').textContent).toContain('hangs on nothing now');
  await userEvent.click(screen.getByText('Undo'));
  await userEvent.click(screen.getByLabelText('Close'));
  expect([onAction.mock.calls.length, onClose.mock.calls.length]).toEqual([1, 1]);
});
test('without a text there is no notice', () => {
  expect(show(<Notice text={null} onClose={() => undefined} />).container.textContent).toBe('');
});
test('a job says how far it is, what is left, and is cancelled', async () => {
  const onCancel = jest.fn();
  const { rerender } = show(<JobLine label="PNG sequence" done={24} total={96} secondsLeft={31.4} onCancel={onCancel} />);
  expect(screen.getByRole('group', { name: 'PNG sequence' }).textContent).toContain('24 of 96 · 31 s left');
  expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('25');
  await userEvent.click(screen.getByText('Cancel'));
  expect(onCancel).toHaveBeenCalledTimes(1);
  rerender(<JobLine label="PNG sequence" done={0} total={0} />);
  expect(screen.getByRole('group', { name: 'PNG sequence' }).textContent).toContain('waiting');
});
test('a dangerous question has the safe answer under the hand', async () => {
  const onConfirm = jest.fn(),
    onClose = jest.fn();
  show(<ConfirmDialog title="Remove walk?" text="Two effects use it." confirm="Remove clip" act={onConfirm} onClose={onClose} />);
  expect(document.activeElement!.textContent).toBe('Keep it');
  await userEvent.keyboard('{Enter}');
  expect([onConfirm.mock.calls.length, onClose.mock.calls.length]).toEqual([0, 1]);
  await userEvent.click(screen.getByText('Remove clip'));
  expect(onConfirm).toHaveBeenCalledTimes(1);
});
test('a name is given by Enter, without blanks around it; an empty one is not taken', async () => {
  const onName = jest.fn();
  show(<NameDialog title="Rename" label="Name" start="Old" confirm="Rename" onDone={onName} onClose={() => undefined} />);
  const input = screen.getByLabelText('Name');
  await userEvent.clear(input);
  await userEvent.keyboard('{Enter}');
  expect(onName).not.toHaveBeenCalled();
  await userEvent.type(input, '  Lantern glow {Enter}');
  expect(onName).toHaveBeenCalledWith('Lantern glow');
});
test('the list of a menu is placed against the window, so that no panel clips it', async () => {
  show(
    <Dropdown>
      <Dropdown.Toggle>More</Dropdown.Toggle>
      <Menu>
        <Dropdown.Item>Duplicate</Dropdown.Item>
      </Menu>
    </Dropdown>,
  );
  await userEvent.click(screen.getByText('More'));
  const list = screen.getByText('Duplicate').closest<HTMLElement>('.dropdown-menu')!;
  expect(list.className).toMatch(/over-all.*show|show.*over-all/);
  expect(list.style.position).toBe('fixed');
});
