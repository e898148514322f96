import { Headphones } from 'lucide-react';
import { IconButton } from '../ui/IconButton';

/** Lets only this source or outline of a matte count, and those that are solo as well. */
export function SoloButton({ on, name, onClick }: { on: boolean; name: string; onClick: () => void }) {
  return (
    <IconButton small on={on} label={on ? `End solo of ${name}` : `Solo ${name}`} onClick={onClick}>
      <Headphones size={13} />
    </IconButton>
  );
}
