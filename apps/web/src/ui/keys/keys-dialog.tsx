import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Switch,
  Typography,
} from '@mui/material';
import { type KeyboardEvent, useState } from 'react';
import { usePreferences } from '../preferences';
import { chordOf, chordWords, isSingle } from './chord';
import { type Shortcut, keysFor, shortcutsNow, useShortcutParts } from './shortcuts';

/** What keys do on the page that is open, each of one character with a key of one's own, if one wants. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  const preferences = usePreferences();
  const { singleKeys, setSingleKeys, ownKeys, setOwnKey } = preferences;
  // A page that is still on its way brings its keys later.
  const parts = useShortcutParts();
  const [listed, setListed] = useState(() => ({ parts, shortcuts: uniqueOf(shortcutsNow()) }));
  if (listed.parts !== parts) setListed({ parts, shortcuts: uniqueOf(shortcutsNow()) });
  const { shortcuts } = listed;
  const [asked, setAsked] = useState<string | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const take = ({ id, text }: Shortcut, event: KeyboardEvent): void => {
    if (['Tab', 'Shift', 'Control', 'Meta', 'AltGraph', 'CapsLock'].includes(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    setRefusal(null);
    if (event.key === 'Escape') return setAsked(null);
    const chord = chordOf(event.nativeEvent);
    if (chord === null || !isSingle(chord))
      return setRefusal('Press a letter, a digit or a sign, alone or with Shift.');
    const other = shortcuts.find((each) => each.id !== id && keysFor(each, preferences).includes(chord));
    if (other)
      return setRefusal(`${chordWords(chord)} is the key for “${other.text}” here: “${text}” needs another one.`);
    setOwnKey(id, chord);
    setAsked(null);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="keys-title">
      <DialogTitle id="keys-title">Keys of this page</DialogTitle>
      <DialogContent>
        <FormControlLabel
          control={<Switch checked={singleKeys} onChange={(_event, on) => setSingleKeys(on)} />}
          label="Keys of one character do something without Ctrl"
        />
        <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
          They do so at a drawing, a tree, a list or the page itself, never in fields, buttons or panels. Command is the
          same as Ctrl.
        </Typography>
        {refusal && (
          <Alert severity="warning" role="alert" sx={{ mb: 1 }}>
            {refusal}
          </Alert>
        )}
        <Box component="table" aria-label="Keys of this page" sx={{ width: '100%', borderCollapse: 'collapse' }}>
          <tbody>
            {shortcuts.map((shortcut) => (
              <Box
                component="tr"
                key={shortcut.id}
                sx={{ borderTop: '1px solid var(--line)', '& td, & th': { py: '3px', verticalAlign: 'middle' } }}
              >
                <Box component="th" scope="row" sx={{ fontWeight: 400, textAlign: 'left' }}>
                  {shortcut.text}
                </Box>
                <Box component="td" sx={{ width: { xs: 'auto', sm: 190 }, '& kbd': { whiteSpace: 'nowrap' } }}>
                  {keysFor(shortcut, preferences).length ? (
                    keysFor(shortcut, preferences).map((chord) => (
                      <kbd key={chord} style={{ marginRight: 4 }}>
                        {chordWords(chord)}
                      </kbd>
                    ))
                  ) : (
                    <Typography variant="body2" color="text.secondary" component="span">
                      off
                    </Typography>
                  )}
                </Box>
                <Box component="td" sx={{ width: { xs: 'auto', sm: 150 }, textAlign: 'right' }}>
                  {[shortcut.keys].flat().every(isSingle) && !Array.isArray(shortcut.keys) && (
                    <>
                      {Object.hasOwn(ownKeys, shortcut.id) && (
                        <Button
                          size="small"
                          aria-label={`Usual key for ${shortcut.text}`}
                          onClick={() => setOwnKey(shortcut.id, null)}
                        >
                          Usual
                        </Button>
                      )}
                      <Button
                        size="small"
                        aria-label={
                          asked === shortcut.id
                            ? `Press the key for ${shortcut.text}`
                            : `Change the key for ${shortcut.text}`
                        }
                        aria-pressed={asked === shortcut.id}
                        onClick={() => setAsked(shortcut.id)}
                        onBlur={() => setAsked((now) => (now === shortcut.id ? null : now))}
                        onKeyDown={(event) => {
                          if (asked === shortcut.id) take(shortcut, event);
                        }}
                      >
                        {asked === shortcut.id ? 'Press it…' : 'Change'}
                      </Button>
                    </>
                  )}
                </Box>
              </Box>
            ))}
          </tbody>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} variant="contained">
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Each once: what a part of the page has goes before what the page has. */
const uniqueOf = (all: readonly Shortcut[]): Shortcut[] =>
  all.filter(({ id }, at) => all.findIndex((each) => each.id === id) === at);
