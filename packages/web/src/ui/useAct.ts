import { useState } from 'react';

/** A line about what was done, and how to take it back. */
export interface Said {
  text: string;
  undo?: () => void;
}

/** Does things to what a page lists: looks again afterwards, and says what went wrong. */
export function useAct(refresh: () => unknown) {
  const [said, say] = useState<Said | null>(null);
  const act = (work: Promise<unknown>, then?: () => void): void => {
    work.then(
      () => {
        void refresh();
        then?.();
      },
      (error: Error) => say({ text: error.message }),
    );
  };
  return { said, say, act };
}
