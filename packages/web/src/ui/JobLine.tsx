import { ProgressBar } from 'react-bootstrap';
import type { JobSummary } from '@wraithos/contract';

const inWords = (seconds: number): string =>
  seconds < 90 ? `${Math.max(1, Math.round(seconds))} s left` : `${Math.round(seconds / 60)} min left`;

/** Progress of long work: what, how far of how much, time left, cancel. */
export function JobLine({
  label,
  done,
  total,
  secondsLeft,
  message,
  onCancel,
}: {
  label: string;
  done: number;
  total: number;
  secondsLeft?: number | null;
  message?: string;
  onCancel?: () => void;
}) {
  return (
    <div className="py-1" role="group" aria-label={label}>
      <div className="d-flex gap-2 align-items-center">
        <span className="flex-grow-1">{label}</span>
        {onCancel && (
          <button type="button" className="btn btn-sm btn-quiet py-0" onClick={onCancel}>
            Cancel
          </button>
        )}
      </div>
      <ProgressBar now={total ? (100 * done) / total : 0} aria-label={label} className="my-1" />
      <div className="quiet num fine">
        {message || (total ? `${done} of ${total}` : 'waiting')}
        {secondsLeft ? ` · ${inWords(secondsLeft)}` : ''}
      </div>
    </div>
  );
}
export const jobStateWords: Record<JobSummary['state'], string> = {
  waiting: 'waiting',
  running: 'running',
  done: 'done',
  failed: 'failed',
  cancelled: 'cancelled',
  parked: 'parked',
};
