import { Box } from '@mui/material';
import Markdown from 'react-markdown';
import remarkGfm from 'remark-gfm';

/** Pictures and files of the lab are written as "file:ID"; nothing else but links to the web is followed. */
const addressOf = (labId: string) => (url: string) =>
  url.startsWith('file:')
    ? `/api/labs/${labId}/files/${encodeURIComponent(url.slice(5))}`
    : /^https?:\/\//i.test(url)
      ? url
      : '';

/** Text with Markdown as people write it. HTML in it stays the text it is. */
export function MarkdownText({ text, labId }: { text: string; labId: string }) {
  return (
    <Box
      sx={{
        lineHeight: '20px',
        overflowWrap: 'anywhere',
        '& > :first-of-type': { mt: 0 },
        '& > :last-child': { mb: 0 },
        '& p, & ul, & ol, & table': { my: 1 },
        '& ul, & ol': { pl: 2.5 },
        '& h1, & h2, & h3': { fontSize: 14, my: 1 },
        '& img': { maxWidth: '100%', borderRadius: '8px', border: '1px solid var(--line)' },
        '& table': { borderCollapse: 'collapse' },
        '& th, & td': { border: '1px solid var(--line)', px: 1, py: '2px', textAlign: 'left' },
        '& code': { fontFamily: 'var(--mono)', fontSize: 12.5 },
        '& a': { color: 'var(--spruce)' },
      }}
    >
      <Markdown
        remarkPlugins={[remarkGfm]}
        urlTransform={addressOf(labId)}
        components={{
          a: ({ href, children }) => (
            <a href={href} target="_blank" rel="noreferrer">
              {children}
            </a>
          ),
        }}
      >
        {text}
      </Markdown>
    </Box>
  );
}
