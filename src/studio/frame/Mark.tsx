/** Crindle's mark: a ribbon with its flag. */
export function Mark() {
  return (
    <svg width="22" height="18" viewBox="0 0 22 18" aria-hidden="true">
      <path d="M0 12h22v5H0z" fill="var(--pine)" opacity="0.35" />
      <path d="M0 17v-2l6-1 5-2v5z" fill="var(--pine)" />
      <path d="M13 1h8l-2.2 3L21 7h-6.6v10H13z" fill="var(--pine)" />
    </svg>
  );
}
