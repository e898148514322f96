import { scaleLinear } from 'd3-scale';

/** Frames to pixels across the time area; a frame's middle stands over its tile's middle. */
export function timeScale(first: number, last: number, width: number) {
  return scaleLinear()
    .domain([first - 0.5, last + 0.5])
    .range([0, width]);
}
export type TimeScale = ReturnType<typeof timeScale>;
