/** The stone in its ring of water. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size * 0.72} viewBox="0 0 32 23" aria-hidden="true">
      <ellipse cx="16" cy="11.5" rx="14" ry="9.5" fill="none" stroke="var(--lily)" strokeWidth="2.4" />
      <ellipse cx="16" cy="11.5" rx="6.5" ry="4.2" fill="var(--koi)" />
    </svg>
  );
}

/** Rings spreading from a stone. */
export function Rings({ width = 84 }: { width?: number }) {
  return (
    <svg width={width} height={width * 0.6} viewBox="0 0 84 50" aria-hidden="true" fill="none">
      <ellipse cx="42" cy="25" rx="40" ry="23.5" stroke="var(--lily)" strokeOpacity=".28" strokeWidth="2" />
      <ellipse cx="42" cy="25" rx="27" ry="15.5" stroke="var(--lily)" strokeOpacity=".55" strokeWidth="2" />
      <ellipse cx="42" cy="25" rx="14.5" ry="8.4" stroke="var(--lily)" strokeWidth="2" />
      <ellipse cx="42" cy="25" rx="5" ry="3.2" fill="var(--koi)" />
    </svg>
  );
}
