import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from '@mui/material';
import { type VersionView } from '@sobrin/contracts';
import { changeWords, drawingChanges } from '@sobrin/core/editing';
import { DRAWING_FORMATS } from '@sobrin/core/formats';
import { type Topology } from '@sobrin/core/topology';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import pLimit from 'p-limit';
import { type FormEvent, memo, useEffect, useMemo, useState } from 'react';
import { useInView } from 'react-intersection-observer';
import { Link } from 'react-router';
import { api } from '../../api/client';
import { readDrawing, readVersion } from '../../api/documents';
import { fileName, give } from '../../api/files';
import { readAnew, useChange } from '../../api/queries';
import { Drawing } from '../../drawing/drawing';
import { LensButton } from '../../drawing/lens-button';
import { useShownLab } from '../../lab/lab-shell';
import { Choice, Row } from '../../ui/fields';
import { Failure, Waiting } from '../../ui/states';
import { when } from '../../ui/words';
import { usePreferences } from '../../ui/preferences';
import { ChangeList, marksAfter, marksBefore } from './changes';
import { useBench, useBenchId, useBenchStore } from '../use-bench';

const LENSES = { ends: false, subnets: true, cables: false };

/** Versions of the drawing: naming it as it is, looking at older ones beside it, and going back. */
export default function VersionsDialog({
  title,
  owned,
  onRestore,
  onClose,
}: {
  /** Of the lab. */
  title: string;
  /** Whether another lab can be made of a version. */
  owned: boolean;
  onRestore: (version: Topology) => void;
  onClose: () => void;
}) {
  const id = useBenchId();
  const versions = useQuery({
    queryKey: ['versions', id],
    queryFn: () => api('GET documents/:id/versions', { id }),
    gcTime: 0,
  });
  const [chosen, setChosen] = useState<number | null>(null);
  const shown = versions.data?.find((version) => version.revision === chosen) ?? null;
  const version = useVersion(chosen);
  /** What it is compared with: another version, or the drawing as it is now. */
  const [against, setAgainst] = useState<number | null>(null);
  const other = versions.data?.find(({ revision }) => revision === against && revision !== chosen) ?? null;
  const second = useVersion(other?.revision ?? null);
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ pb: 1 }}>Versions of this drawing</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '320px 1fr', gap: 3, height: 560 }}>
        <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0 }}>
          <NameNow />
          {versions.isPending ? (
            <Waiting what="Looking for versions" />
          ) : versions.isError ? (
            <Failure error={versions.error} onAgain={() => void versions.refetch()} />
          ) : versions.data.length === 0 ? (
            <Typography color="text.secondary">
              Nothing was changed yet. How the drawing is left at the end of each sitting will be listed here.
            </Typography>
          ) : (
            <Box role="listbox" aria-label="Versions" sx={{ overflowY: 'auto', flex: 1 }}>
              {versions.data.map((version) => (
                <Entry
                  key={version.revision}
                  version={version}
                  chosen={version.revision === chosen}
                  onChoose={setChosen}
                />
              ))}
            </Box>
          )}
        </Box>
        {shown === null ? (
          <Typography color="text.secondary" sx={{ alignSelf: 'center', justifySelf: 'center' }}>
            Choose a version to see it, and what has changed since.
          </Typography>
        ) : version.isError ? (
          <Failure error={version.error} onAgain={() => void version.refetch()} />
        ) : version.data ? (
          <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, minWidth: 0 }}>
            <Row label="Compared with">
              <Choice
                label="Compared with"
                value={other ? String(other.revision) : NOW}
                options={[
                  { value: NOW, text: 'the drawing as it is now' },
                  ...versions
                    .data!.filter(({ revision }) => revision !== chosen)
                    .map((each) => ({ value: String(each.revision), text: `${titleOf(each)}, ${each.by}` })),
                ]}
                onChange={(value) => setAgainst(value === NOW ? null : Number(value))}
              />
            </Row>
            {second.isError ? (
              <Failure error={second.error} onAgain={() => void second.refetch()} />
            ) : other && !second.data ? (
              <Waiting what="Working the version out" />
            ) : (
              <Compared
                version={version.data.document}
                title={titleOf(shown)}
                against={other && second.data ? { document: second.data.document, title: titleOf(other) } : null}
              />
            )}
          </Box>
        ) : (
          <Waiting what="Working the version out" />
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Button
          disabled={!shown || !version.data}
          onClick={() =>
            version.data &&
            shown &&
            give(fileName(`${title} ${titleOf(shown)}`, 'json'), 'application/json', writeJson(version.data.document))
          }
        >
          Save as a file
        </Button>
        {owned && (
          <CopyToLab key={chosen} version={version.data?.document ?? null} name={shown ? titleOf(shown) : ''} />
        )}
        <Button
          variant="contained"
          disabled={!shown || !version.data}
          onClick={() => version.data && onRestore(version.data.document)}
        >
          Go back to this version
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const NOW = 'now';

function useVersion(revision: number | null) {
  const id = useBenchId();
  return useQuery({
    queryKey: ['version', id, revision],
    queryFn: () => readVersion(id, revision!),
    enabled: revision !== null,
    staleTime: Infinity,
  });
}

const writeJson = DRAWING_FORMATS.find((format) => format.ending === '.json')!.write;

/** Another lab that is like this one, with a version as its reference. */
function CopyToLab({ version, name }: { version: Topology | null; name: string }) {
  const lab = useShownLab();
  const copy = useChange(
    async (reference: Topology) => {
      const file = await api('GET labs/:id/file', { id: lab.id });
      const title = `${lab.title}, ${name}`.slice(0, 120);
      const text = JSON.stringify({ ...file, title, reference: { ...reference, origin: { kind: 'copy' } } });
      return api('POST courses/:id/labs/import', { id: lab.courseId }, { text });
    },
    ['courses'],
  );
  if (copy.data)
    return (
      <Button component={Link} to={`/labs/${copy.data.id}/bench`} reloadDocument>
        Open the new lab
      </Button>
    );
  return (
    <>
      {copy.error && <Failure error={copy.error} />}
      <Button disabled={!version || copy.isPending} onClick={() => version && copy.mutate(version)}>
        Make a lab of it
      </Button>
    </>
  );
}

const titleOf = ({ name, at }: VersionView): string => name ?? when(at);

const Entry = memo(function Entry({
  version,
  chosen,
  onChoose,
}: {
  version: VersionView;
  chosen: boolean;
  onChoose: (revision: number) => void;
}) {
  const id = useBenchId();
  const scheme = usePreferences((state) => state.scheme);
  const { revision, name, by, at } = version;
  return (
    <Box
      role="option"
      aria-selected={chosen}
      tabIndex={0}
      onClick={() => onChoose(revision)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        onChoose(revision);
      }}
      sx={{
        p: 1,
        borderRadius: '8px',
        cursor: 'pointer',
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        ...(chosen && { background: 'var(--spruce-tint)' }),
      }}
    >
      <Thumbnail src={`/api/documents/${id}/picture.png?revision=${revision}&width=144&scheme=${scheme}`} />
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: name ? 700 : 400 }}>{titleOf(version)}</Typography>
        <Typography variant="body2" color="text.secondary">
          {name ? `${when(at)}, ` : 'end of a sitting, '}
          {by}
        </Typography>
      </Box>
    </Box>
  );
});

/** Pictures that are asked for at once: more would keep the version waiting that somebody chose. */
const fewAtOnce = pLimit(2);

/** A small picture, asked for when it comes into sight and not before: a large drawing takes the server a while. */
function Thumbnail({ src }: { src: string }) {
  const { ref, inView } = useInView();
  const [shown, setShown] = useState<string | null>(null);
  useEffect(() => {
    if (!inView || shown === src) return;
    let isWanted = true;
    void fewAtOnce(async () => {
      if (!isWanted) return;
      const picture = new Image();
      picture.src = src;
      await picture.decode().then(
        () => setShown(src),
        () => {}, // a list without one of its pictures is a list all the same
      );
    });
    return () => void (isWanted = false);
  }, [inView, src, shown]);
  return (
    <Box
      ref={ref}
      sx={{
        flex: 'none',
        width: 72,
        height: 46,
        border: '1px solid var(--line)',
        borderRadius: '6px',
        overflow: 'hidden',
      }}
    >
      {shown === src && (
        <Box component="img" src={src} alt="" width={72} height={46} sx={{ display: 'block', objectFit: 'contain' }} />
      )}
    </Box>
  );
}

/** A name for the drawing as it is, after everything of it is saved. */
function NameNow() {
  const id = useBenchId();
  const store = useBenchStore();
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [trouble, setTrouble] = useState<unknown>(null);
  const keep = async (): Promise<void> => {
    if (!(await store.getState().flush())) throw new Error('The drawing is not saved yet: try again when it is.');
    const { revision } = await readDrawing(id);
    await api('POST documents/:id/versions', { id }, { revision, name: name.trim() });
    setName('');
    await readAnew(queries, ['versions', id]);
  };
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    setTrouble(null);
    keep().catch(setTrouble);
  };
  return (
    <Box component="form" onSubmit={submit} sx={{ mb: 1.5 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <TextField
          size="small"
          fullWidth
          label="Name it as it is now"
          value={name}
          onChange={(event) => setName(event.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }}
        />
        <Button type="submit" variant="outlined" disabled={!name.trim()}>
          Keep
        </Button>
      </Box>
      {trouble !== null && <Failure error={trouble} />}
    </Box>
  );
}

/** A version and another one, or the drawing as it is now, with what is other marked on it and told in a list. */
function Compared({
  version,
  title,
  against,
}: {
  version: Topology;
  title: string;
  against: { document: Topology; title: string } | null;
}) {
  const present = useBench((state) => state.document);
  const now = against?.document ?? present;
  const [after, setAfter] = useState(false);
  const changes = useMemo(() => drawingChanges(version, now), [version, now]);
  const marks = useMemo(() => (after ? marksAfter : marksBefore)(changes), [changes, after]);
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', flex: 1, minHeight: 0, minWidth: 0 }}>
      <Box sx={{ mb: 1, minHeight: 32, display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Typography sx={{ flex: 1, minWidth: 0 }}>
          <b>{title}</b>.{' '}
          {against
            ? changes.length
              ? `In “${against.title}”: ${changeWords(changes)}.`
              : `“${against.title}” is exactly like it.`
            : changes.length
              ? `Since then: ${changeWords(changes)}.`
              : 'It is exactly as the drawing is now.'}
        </Typography>
        {changes.length > 0 && (
          <>
            <LensButton text={against ? 'This one' : 'As it was'} isOn={!after} onToggle={() => setAfter(false)} />
            <LensButton text={against ? 'The other' : 'As it is now'} isOn={after} onToggle={() => setAfter(true)} />
          </>
        )}
      </Box>
      <Box
        sx={{
          ...(changes.length ? { height: 300, flex: 'none' } : { flex: 1, minHeight: 0 }),
          border: '1px solid var(--line)',
          borderRadius: '12px',
          overflow: 'hidden',
        }}
      >
        <Drawing
          topology={after ? now : version}
          label={after ? (against ? `Version: ${against.title}` : 'The drawing now') : `Version: ${title}`}
          lenses={LENSES}
          marks={marks}
        />
      </Box>
      {changes.length > 0 && (
        <Box sx={{ mt: 1, flex: 1, minHeight: 0, display: 'flex' }}>
          <ChangeList changes={changes} />
        </Box>
      )}
    </Box>
  );
}
