'use client';
import { closestCenter, DndContext } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import MoreVert from '@mui/icons-material/MoreVert';
import NavigateBefore from '@mui/icons-material/NavigateBefore';
import NavigateNext from '@mui/icons-material/NavigateNext';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { partsOfPlates, type PlateEntry } from '../../core/shot/shot';
import { hasOlder } from '../../core/shot/versions';
import { useShot } from '../../state/shot-store';
import { useSortSensors } from '../common';
import {
  chooseVersion,
  dropOlder,
  readAnew,
  removePlate,
  reportError,
  tryAgain,
  useChangedFiles,
  useFileChooser,
  usePlates,
} from '../session';
import { CornerButton, EditableName, sizeText, Tile } from './parts';

/** The plates in their order, which dragging changes. */
export function PlateList() {
  const all = useShot((state) => state.plates);
  const parts = partsOfPlates(all);
  // Elements stand in the panel of the plate that they are part of.
  const plates = all.filter(({ id }) => !parts.has(id));
  const movePlate = useShot((state) => state.movePlate);
  const sensors = useSortSensors();
  const ids = plates.map(({ id }) => id);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (over && active.id !== over.id)
          movePlate(
            String(active.id),
            all.findIndex(({ id }) => id === over.id),
          );
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {plates.map((plate) => (
          <PlateTile key={plate.id} plate={plate} />
        ))}
      </SortableContext>
    </DndContext>
  );
}

function PlateTile({ plate }: { plate: PlateEntry }) {
  const active = useShot((state) => state.activePlate === plate.id);
  const choosePlate = useShot((state) => state.choosePlate);
  const editPlate = useShot((state) => state.editPlate);
  const card = usePlates((state) => state.cards[plate.id]);
  const failure = usePlates((state) => state.failures[plate.id]);
  const [renaming, setRenaming] = useState(false);
  const { setNodeRef, listeners, transform, transition } = useSortable({ id: plate.id });
  const { frames } = plate.versions[plate.version]!;
  return (
    <Box
      ref={setNodeRef}
      style={{ transform: CSS.Transform.toString(transform), transition }}
      sx={{ position: 'relative', mb: 1.25 }}
    >
      <div {...listeners}>
        <Tile
          kind="Plate"
          name={plate.name}
          active={active}
          bitmap={card?.thumbnail}
          onPick={() => choosePlate(plate.id)}
          onRename={() => setRenaming(true)}
          failure={card ? undefined : failure?.line}
        />
      </div>
      <EditableName
        name={plate.name}
        open={renaming}
        setOpen={setRenaming}
        onRename={(name) => editPlate(plate.id, { name })}
      />
      {card && (
        <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary' }}>
          {card.width} x {card.height} · {card.passes.length} {card.passes.length === 1 ? 'pass' : 'passes'}
          <br />
          {plate.elements.length > 0 ? `${plate.elements.length} elements` : sizeText(card.bytes)}
          {plate.versions.length > 1 && (
            <>
              <br />
              version {plate.version + 1} of {plate.versions.length}
            </>
          )}
        </Box>
      )}
      {frames.length > 1 && <FrameStepper plate={plate} />}
      <ChangedFiles plate={plate} />
      <PlateMenu plate={plate} />
    </Box>
  );
}

/** Offers to read anew what was written on disk since it was brought in. */
function ChangedFiles({ plate }: { plate: PlateEntry }) {
  const count = useChangedFiles((changed) => changed[plate.id]?.length ?? 0);
  const choose = useFileChooser();
  if (count === 0) return null;
  const take = async (): Promise<void> => {
    if (!(await readAnew(plate.id))) choose({ kind: 'replace', plate: plate.id });
  };
  return (
    <Box sx={{ fontSize: 11, color: 'warning.main', pt: 0.25 }}>
      {count === 1 ? 'a file has' : `${count} files have`} changed on disk
      <Button
        size="small"
        variant="outlined"
        color="inherit"
        onClick={() => void take().catch(reportError)}
        sx={{ fontSize: 11, py: 0, mt: 0.25 }}
      >
        Read anew
      </Button>
    </Box>
  );
}

/** Which frame of a sequence is on the bench. */
function FrameStepper({ plate }: { plate: PlateEntry }) {
  const { frames } = plate.versions[plate.version]!;
  const go = (step: number) => () => void chooseVersion(plate.id, plate.version, plate.frame + step);
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        fontFamily: 'var(--figures)',
        fontSize: 10,
        whiteSpace: 'nowrap',
      }}
    >
      <IconButton
        size="small"
        aria-label="Frame before"
        disabled={plate.frame === 0}
        onClick={go(-1)}
        sx={{ p: 0 }}
      >
        <NavigateBefore sx={{ fontSize: 16 }} />
      </IconButton>
      <span>
        frame {frames[plate.frame]!.frame} ({plate.frame + 1} of {frames.length})
      </span>
      <IconButton
        size="small"
        aria-label="Frame after"
        disabled={plate.frame === frames.length - 1}
        onClick={go(1)}
        sx={{ p: 0 }}
      >
        <NavigateNext sx={{ fontSize: 16 }} />
      </IconButton>
    </Box>
  );
}

function PlateMenu({ plate }: { plate: PlateEntry }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const failed = usePlates((state) => plate.id in state.failures);
  const choose = useFileChooser();
  const pick = (action: () => void) => () => {
    setAnchor(null);
    action();
  };
  return (
    <>
      <CornerButton label={`More of ${plate.name}`} menu onClick={(event) => setAnchor(event.currentTarget)}>
        <MoreVert sx={{ fontSize: 14 }} />
      </CornerButton>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem dense onClick={pick(() => choose({ kind: 'replace', plate: plate.id }))}>
          {failed ? 'Bring its files in again…' : 'Replace the render…'}
        </MenuItem>
        {failed && (
          <MenuItem dense onClick={pick(() => tryAgain(plate.id))}>
            Try to open it again
          </MenuItem>
        )}
        {plate.versions.length > 1 &&
          plate.versions.map((version, index) => (
            <MenuItem
              dense
              key={version.id}
              selected={index === plate.version}
              onClick={pick(() => void chooseVersion(plate.id, index, plate.frame))}
            >
              Version {index + 1}: {version.frames[0]!.files[0]!.name}
            </MenuItem>
          ))}
        {hasOlder(plate) && (
          <MenuItem dense onClick={pick(() => void dropOlder(plate.id).catch(reportError))}>
            Leave out what is of older versions
          </MenuItem>
        )}
        <MenuItem dense onClick={pick(() => removePlate(plate.id))}>
          Remove from the shot
        </MenuItem>
      </Menu>
    </>
  );
}
