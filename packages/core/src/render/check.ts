/** A problem that was measured and can be pointed at. `row`, `track`, `clip` or `matte` names the place, `fix` says what to do. */
export interface Check {
  id: string;
  text: string;
  fix: string;
  /** What the page offers to do about it at once. */
  mend?: 'clean plate';
  row?: string;
  track?: string;
  clip?: string;
  matte?: string;
  frame?: number;
}
