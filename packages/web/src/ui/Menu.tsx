import { Dropdown, type DropdownMenuProps } from 'react-bootstrap';

/** The list of a dropdown. It lies over everything, so that no panel cuts it off, and scrolls where the window is too low for it. */
export const Menu = (props: DropdownMenuProps) => (
  <Dropdown.Menu {...props} className={`over-all ${props.className ?? ''}`} popperConfig={{ strategy: 'fixed' }} renderOnMount />
);
