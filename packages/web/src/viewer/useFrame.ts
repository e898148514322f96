import { useEffect, useState } from 'react';
import type { View } from '../state/frameCache';
import { PictureKeeper } from './pictureKeeper';

/** What is on the display, for as long as a viewer is there. */
export function useFrame(view: View) {
  const [keeper] = useState(() => new PictureKeeper());
  useEffect(() => keeper.start(), [keeper]);
  useEffect(() => keeper.setView(view));
  return keeper.use();
}
