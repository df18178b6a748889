import { type Guide } from '@sobrin/core/drawing';

/** Lines along which what is moved stands with others. */
export const GuideLines = ({ guides }: { guides: readonly Guide[] }) => (
  <svg className="links" aria-hidden>
    {guides.map(({ from, to }, at) => (
      <path key={at} className="guide" d={`M${from.x} ${from.y}L${to.x} ${to.y}`} />
    ))}
  </svg>
);
