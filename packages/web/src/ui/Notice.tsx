import { X } from 'lucide-react';
import { IconButton } from './IconButton';

/** One line about something that happened, with what can be done about it. It stays until it is closed. */
export function Notice({
  text,
  action,
  onAction,
  onClose,
}: {
  text: string | null;
  action?: string;
  onAction?: () => void;
  onClose(): void;
}) {
  if (!text) return null;
  return (
    <div className="notice" role="status">
      <span>{text}</span>
      {action && (
        <button type="button" className="btn btn-sm btn-quiet" onClick={onAction}>
          {action}
        </button>
      )}
      <IconButton small label="Close" onClick={onClose}>
        <X size={14} />
      </IconButton>
    </div>
  );
}
