import { Grid2x2 } from 'lucide-react';
import { isOpaque } from '@wraithos/core/render';
import { usePreferences } from '../state/preferences';
import { useDocument } from '../state/shotStore';
import { IconButton } from '../ui/IconButton';
import { backdrops } from '../workers/protocol';

/** Goes through what stands behind the transparent parts of the picture; not there where nothing is transparent. */
export function Backdrop() {
  const shot = useDocument(),
    { backdrop, change } = usePreferences();
  if (isOpaque(shot)) return null;
  const next = backdrops[(backdrops.indexOf(backdrop) + 1) % backdrops.length]!;
  return (
    <IconButton label={`Behind what is transparent: ${backdrop}; next ${next}`} onClick={() => change({ backdrop: next })}>
      <Grid2x2 size={16} />
    </IconButton>
  );
}
