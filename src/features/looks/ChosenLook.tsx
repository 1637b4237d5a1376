'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { differenceLabel, differencesOf, differenceText } from '../../core/look/differences';
import { STATION_IDS, STATION_LABELS, type Look, type StationId } from '../../core/look/look';
import type { NumberMeta } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { BitmapPicture, Pill, TextField } from '../common';
import { NumberField, type NumberSetting } from '../controls';
import { dropLook, editLook, exportLook, notify, replaceLook, reportError } from '../session';
import type { Choice, Taking } from './choices';

const STRENGTH_META: NumberMeta = {
  kind: 'number',
  label: 'strength',
  help: '0 is the present look, 100 % the other: numbers go from one to the other',
  unit: 'share',
  min: 0,
  max: 1,
  step: 0.05,
  default: 1,
  scale: 'linear',
  shown: { factor: 100, unit: '%', digits: 0 },
};
const STRENGTH: NumberSetting = { ...STRENGTH_META, path: 'strength', group: 'Look' };

interface ChosenLookProps {
  choice: Choice;
  /** The look that comes of it. */
  target: Look;
  picture: ImageBitmap | undefined;
  taking: Taking;
  setTaking: (taking: Taking) => void;
}

/** A look that was chosen: how much of it is taken, what that would change, and what can be done with it. */
export function ChosenLook({ choice, target, picture, taking, setTaking }: ChosenLookProps) {
  const { name, note, look, kept } = choice;
  const present = useShot((state) => state.look);
  const followed = useShot((state) => state.follows?.name);
  const set = useDesk((state) => state.set);
  const changes = differencesOf(present, target);
  const take = (follows: boolean): void => {
    const { setLook, follow } = useShot.getState();
    if (follows) follow({ name, look }, target);
    else setLook(target);
    set({ looks: false });
    notify(
      follows
        ? `this shot follows ${name}; what you change here are its trims`
        : `${name} is on the bench; undo takes it back`,
      'success',
    );
  };
  const toggle = (station: StationId): void =>
    setTaking({
      ...taking,
      stations: taking.stations.includes(station)
        ? taking.stations.filter((one) => one !== station)
        : [...taking.stations, station],
    });
  return (
    <>
      <Box sx={{ px: 1.25, display: 'flex', flexDirection: 'column', gap: 1 }}>
        <Box sx={{ aspectRatio: '16 / 9', bgcolor: 'canvas.main' }}>
          {picture && <BitmapPicture bitmap={picture} label={`The plate under ${name}`} fill />}
        </Box>
        {kept ? <KeptName choice={choice} /> : <Box sx={{ color: 'text.secondary' }}>{note}</Box>}
        <Box
          role="group"
          aria-label="Stations that are taken"
          sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}
        >
          {STATION_IDS.filter((station) => station !== 'plate' || taking.withRender).map((station) => (
            <Pill
              key={station}
              on={taking.stations.includes(station)}
              label={STATION_LABELS[station]}
              name={`Take ${STATION_LABELS[station]}`}
              onClick={() => toggle(station)}
            />
          ))}
        </Box>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <Pill
            on={taking.withRender}
            label="what goes by the render"
            name="Take what goes by the render, too: lights, feeds, exposure, depth, masks"
            onClick={() =>
              setTaking({
                ...taking,
                withRender: !taking.withRender,
                stations: taking.withRender
                  ? taking.stations.filter((one) => one !== 'plate')
                  : [...taking.stations, 'plate'],
              })
            }
          />
          <Box sx={{ flex: 1 }} />
          strength
          <Box sx={{ width: 72 }}>
            <NumberField
              setting={STRENGTH}
              value={taking.strength}
              onChange={(strength) => setTaking({ ...taking, strength })}
            />
          </Box>
        </Box>
        <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <Button
            size="small"
            variant="contained"
            disabled={changes.length === 0}
            onClick={() => take(false)}
          >
            Take it
          </Button>
          {kept && (
            <Button size="small" variant="outlined" color="inherit" onClick={() => take(true)}>
              {followed === name ? 'Take and still follow it' : 'Take and follow it'}
            </Button>
          )}
          <Button size="small" color="inherit" onClick={() => exportLook({ name, note, look })}>
            Save to a file
          </Button>
          {kept && (
            <>
              <Button size="small" color="inherit" onClick={() => void replaceLook(kept).catch(reportError)}>
                Put the present look in its place
              </Button>
              <Button size="small" color="inherit" onClick={() => void dropLook(kept).catch(reportError)}>
                Remove
              </Button>
            </>
          )}
        </Box>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, overflowY: 'auto', px: 1.25, pt: 1 }}>
        <Box sx={{ color: 'text.secondary', pb: 0.5 }} role="status">
          {changes.length === 0
            ? 'It would change nothing here.'
            : `It would change ${changes.length} settings:`}
        </Box>
        <Box
          component="ul"
          aria-label="What it would change"
          sx={{ m: 0, p: 0, listStyle: 'none', fontSize: 11 }}
        >
          {changes.map(({ path, a, b }) => (
            <Box component="li" key={path} title={path} sx={{ pb: 0.25, overflowWrap: 'anywhere' }}>
              {differenceLabel(path)}{' '}
              <Box component="span" sx={{ fontFamily: 'var(--figures)', color: 'text.secondary' }}>
                {shortened(differenceText(path, a))} → {shortened(differenceText(path, b))}
              </Box>
            </Box>
          ))}
        </Box>
      </Box>
    </>
  );
}

const shortened = (text: string): string => (text.length > 40 ? `${text.slice(0, 38)} …` : text);

/** The name and note of a look that is kept, to be typed anew. */
function KeptName({ choice: { name, note, kept } }: { choice: Choice }) {
  const [editing, setEditing] = useState<'name' | 'note' | null>(null);
  if (!kept) return null;
  const edit = (change: { name?: string; note?: string }): void =>
    void editLook(kept, change).catch(reportError);
  if (editing)
    return (
      <TextField
        label={editing === 'name' ? 'Name of the look' : 'Note on the look'}
        value={editing === 'name' ? name : note}
        autoFocus
        problem={(text) => {
          if (editing === 'note') return text.length <= 2000 ? undefined : 'up to 2000 letters';
          return text.trim() !== '' && text.length <= 200 ? undefined : 'a name of 1 to 200 letters';
        }}
        onTake={(text) => edit({ [editing]: text.trim() })}
        onLeave={() => setEditing(null)}
      />
    );
  return (
    <Box sx={{ color: 'text.secondary', overflowWrap: 'anywhere' }}>
      {note && <Box>{note}</Box>}
      <Button size="small" color="inherit" onClick={() => setEditing('name')}>
        Rename…
      </Button>
      <Button size="small" color="inherit" onClick={() => setEditing('note')}>
        {note ? 'Change the note…' : 'Write a note…'}
      </Button>
    </Box>
  );
}
