import type { ReactNode } from 'react';

export interface IconButtonProps {
  label: string;
  keys?: string;
  on?: boolean;
  small?: boolean;
  disabled?: boolean;
  onClick(): void;
  children: ReactNode;
  className?: string;
}

/** A button that is an icon; its tooltip names the action and its key. */
export function IconButton({ label, keys, on, small, disabled, onClick, children, className = '' }: IconButtonProps) {
  const title = keys ? `${label} (${keys})` : label;
  return (
    <button
      type="button"
      className={`icon-button ${on ? 'on' : ''} ${small ? 'small' : ''} ${className}`}
      title={title}
      aria-label={label}
      aria-pressed={on}
      disabled={disabled}
      onClick={(event) => {
        event.stopPropagation();
        onClick();
      }}
    >
      {children}
    </button>
  );
}
