'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useMemo, useState } from 'react';
import type { Look } from '../../core/look/look';
import { takeLook } from '../../core/look/whole-look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { useTrials, type Trial } from '../controls';
import {
  benchLook,
  bringBackLook,
  lastRemovedLook,
  reportError,
  savePresentLook,
  useFileChooser,
  useLooks,
} from '../session';
import { LENS_STATIONS, SHIPPED, type Choice, type Taking } from './choices';
import { ChosenLook } from './ChosenLook';
import { LookTile } from './LookTile';

/** Pixels across of a thumbnail. */
const ACROSS = 214;

/** Whole looks in place of the picture, each on the present plate, while they are chosen from. */
export function LooksView() {
  const isOpen = useDesk((state) => state.looks);
  return isOpen ? <Looks /> : null;
}

function Looks() {
  const set = useDesk((state) => state.set);
  const present = useShot((state) => state.look);
  const looks = useLooks((state) => state.looks);
  const choose = useFileChooser();
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [taking, setTaking] = useState<Taking>({
    stations: LENS_STATIONS,
    withRender: false,
    strength: 1,
  });
  const kept = useMemo(() => looks.map((look): Choice => ({ ...look, kept: look })), [looks]);
  const trials = useMemo(
    () => [...kept, ...SHIPPED].map((choice) => trialOf(choice, present)),
    [kept, present],
  );
  const chosen = [...kept, ...SHIPPED].find(({ id }) => id === chosenId);
  const target = chosen && takeLook(present, chosen.look, taking);
  const pictures = useTrials(
    [
      ...(target
        ? [{ id: 'target', key: JSON.stringify(target), look: () => benchLook(target), across: 2 * ACROSS }]
        : []),
      ...trials,
    ],
    { lane: 'looks', across: ACROSS },
  );
  const tiles = (choices: readonly Choice[]) => (
    <Box
      sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(144px, 1fr))', gap: 1, pb: 1.5 }}
    >
      {choices.map((choice) => (
        <LookTile
          key={choice.id}
          choice={choice}
          bitmap={pictures[choice.id]}
          active={choice.id === chosenId}
          onPick={() => setChosenId(choice.id === chosenId ? null : choice.id)}
        />
      ))}
    </Box>
  );
  const removed = lastRemovedLook();
  return (
    <Box
      component="section"
      aria-label="Whole looks"
      sx={{
        position: 'absolute',
        inset: 0,
        display: 'flex',
        bgcolor: 'canvas.main',
        fontSize: 12,
      }}
    >
      <Box sx={{ flex: 1, minWidth: 0, overflowY: 'auto', p: 1.25 }}>
        <Heading>Yours</Heading>
        {kept.length === 0 && (
          <Box sx={{ color: 'text.secondary', pb: 0.75 }}>
            Keep a look here to use it on other shots, or to let several shots follow it.
          </Box>
        )}
        {tiles(kept)}
        <Box sx={{ display: 'flex', gap: 1, pb: 2, flexWrap: 'wrap' }}>
          <Button
            size="small"
            color="inherit"
            variant="outlined"
            onClick={() => void savePresentLook('My look').then(({ id }) => setChosenId(id), reportError)}
          >
            Keep the present look
          </Button>
          <Button size="small" color="inherit" onClick={() => choose()}>
            Bring in a look…
          </Button>
          {removed && (
            <Button size="small" color="inherit" onClick={() => void bringBackLook().catch(reportError)}>
              Bring back {removed.name}
            </Button>
          )}
        </Box>
        <Heading>To start from</Heading>
        {tiles(SHIPPED)}
      </Box>
      <Box
        sx={{
          width: 316,
          flex: 'none',
          display: 'flex',
          flexDirection: 'column',
          borderLeft: '1px solid',
          borderColor: 'divider',
          bgcolor: 'background.default',
        }}
      >
        <Box sx={{ height: 34, px: 1.25, display: 'flex', alignItems: 'center' }}>
          <Box component="h2" sx={{ m: 0, flex: 1, fontSize: 13, fontWeight: 600 }}>
            {chosen ? chosen.name : 'Whole looks'}
          </Box>
          <IconButton size="small" aria-label="Back to the picture" onClick={() => set({ looks: false })}>
            <Close sx={{ fontSize: 16 }} />
          </IconButton>
        </Box>
        {chosen && target ? (
          <ChosenLook
            key={chosen.id}
            choice={chosen}
            target={target}
            picture={pictures['target']}
            taking={taking}
            setTaking={setTaking}
          />
        ) : (
          <Box sx={{ px: 1.25, color: 'text.secondary' }}>
            Choose one to see what it would change here. What goes by the render stays as it is: lights,
            feeds, exposure, depth.
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** A look on the present plate: as all of it would be taken. */
function trialOf({ id, look }: Choice, present: Look): Trial {
  const target = takeLook(present, look, { stations: LENS_STATIONS });
  return { id, key: JSON.stringify(target), look: () => benchLook(target) };
}

function Heading({ children }: { children: React.ReactNode }) {
  return (
    <Box component="h3" sx={{ m: 0, pb: 0.75, fontSize: 12, fontWeight: 400, color: 'text.secondary' }}>
      {children}
    </Box>
  );
}
