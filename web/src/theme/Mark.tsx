/** The sign of Keen Sweep: one stroke, and the clean ground it leaves. */
export function Mark({ size = 22 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden="true">
      <path
        d="M2 16c7 0 8-10 18-11"
        fill="none"
        stroke="var(--chakra-colors-ink)"
        strokeWidth="3"
        strokeLinecap="round"
      />
      <path d="M3 21h10" stroke="#f2a71b" strokeWidth="3" strokeLinecap="round" />
    </svg>
  );
}
