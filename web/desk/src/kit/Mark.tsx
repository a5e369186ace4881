/** The mark: an exclamation mark lying down. */
export function Mark({ className = 'h-4' }: { className?: string }) {
  return (
    <svg viewBox="0 0 34 18" className={className} aria-hidden="true">
      <path d="M13 9 32 1v16z" fill="#15181E" />
      <circle cx="7" cy="9" r="5.5" fill="#FFB81C" stroke="#15181E" strokeWidth="1.5" />
    </svg>
  );
}
