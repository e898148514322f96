import { useState, type ReactNode } from 'react';
import { FieldScope } from '../settings/fields';
import { IconButton } from '../ui/IconButton';

/** A button of the rail that opens a few fields beside it. */
export function RailMenu({
  name,
  label,
  keys,
  icon,
  on,
  children,
}: {
  /** What the group is called, and its fields are told from others by. */
  name: string;
  label: string;
  keys?: string;
  icon: ReactNode;
  /** Something in it differs from what is usual. */
  on: boolean;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <div className="rail-menu">
      <IconButton label={label} keys={keys} on={open || on} onClick={() => setOpen(!open)}>
        {icon}
      </IconButton>
      {open && (
        <div className="rail-fields" role="group" aria-label={name}>
          <FieldScope.Provider value={`${name} `}>{children}</FieldScope.Provider>
        </div>
      )}
    </div>
  );
}
