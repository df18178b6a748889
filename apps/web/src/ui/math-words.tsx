/** Words with powers: "2^6" is shown as two to the sixth. */
export const MathWords = ({ text }: { text: string }) => (
  <>{text.split(/(\^\d+)/).map((part, at) => (part.startsWith('^') ? <sup key={at}>{part.slice(1)}</sup> : part))}</>
);
