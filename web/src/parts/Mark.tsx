/** The shop's mark: a grapnel. */
export function Mark() {
  return (
    <svg
      width="26"
      height="26"
      viewBox="0 0 26 26"
      fill="none"
      stroke="currentColor"
      strokeWidth="2.3"
      strokeLinecap="round"
      aria-hidden
    >
      <circle cx="13" cy="4" r="2.4" />
      <path d="M13 6.5V23M13 23C6 22 3.500 17.500 3.500 13M13 23c7-1 9.500-5.500 9.500-10M13 23c-3-2-4.200-6-4.200-9.500M13 23c3-2 4.200-6 4.200-9.500" />
    </svg>
  );
}
