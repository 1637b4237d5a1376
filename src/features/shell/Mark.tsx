/** The application's mark: an iris of seven blades with a lamp in it. */
export function Mark() {
  const blades = Array.from({ length: 7 }, (_, k) => {
    const at = (turn: number, radius: number): string => {
      const angle = ((k + turn) * 2 * Math.PI) / 7 - Math.PI / 2;
      return `${(12 + radius * Math.cos(angle)).toFixed(2)} ${(12 + radius * Math.sin(angle)).toFixed(2)}`;
    };
    return `M${at(0, 10.5)} L${at(1.15, 5.2)}`;
  });
  return (
    <svg width={24} height={24} viewBox="0 0 24 24" aria-hidden="true">
      <circle cx={12} cy={12} r={10.5} fill="none" stroke="#e8a33d" strokeWidth={1.3} />
      <path d={blades.join(' ')} fill="none" stroke="#e8a33d" strokeWidth={1} />
      <circle cx={12} cy={12} r={2.4} fill="#e8a33d" />
    </svg>
  );
}
