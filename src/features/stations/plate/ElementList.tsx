'use client';
import { closestCenter, DndContext } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import DragIndicator from '@mui/icons-material/DragIndicator';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { elementPath, settingAt } from '../../../core/look/look';
import { elementOf, MOST_ELEMENTS } from '../../../core/settings/element';
import type { PlateEntry } from '../../../core/shot/shot';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { SwitchDot, ThumbnailButton, useSortSensors } from '../../common';
import { NumberField, type NumberSetting } from '../../controls';
import { removePlate, syncEngine, useFileChooser, usePlates } from '../../session';
import { useElement, useElements } from './use-element';

/** The plate's elements, the nearest on top: chosen, switched, put in order. */
export function ElementList() {
  const elements = useElements();
  const activePlate = useShot((state) => state.activePlate);
  const moveElement = useShot((state) => state.moveElement);
  const set = useDesk((state) => state.set);
  const sensors = useSortSensors();
  const choose = useFileChooser();
  if (!activePlate) return <Box sx={{ color: 'text.secondary' }}>No plate is on the bench.</Box>;
  const ids = elements.map(({ id }) => id).toReversed();
  return (
    <Box data-drop="elements">
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (!over || active.id === over.id) return;
          const place = (id: unknown): number => elements.findIndex((one) => one.id === String(id));
          moveElement(activePlate, place(active.id), place(over.id));
          set({ element: place(over.id) });
          void syncEngine();
        }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <Box role="list" aria-label="Elements, the nearest first">
            {elements
              .map((entry, index) => <ElementRow key={entry.id} entry={entry} index={index} />)
              .toReversed()}
          </Box>
        </SortableContext>
      </DndContext>
      <Button
        size="small"
        color="inherit"
        data-list="elements"
        startIcon={<Add />}
        disabled={elements.length >= MOST_ELEMENTS}
        onClick={() => choose({ kind: 'element', plate: activePlate })}
        sx={{ color: 'text.secondary' }}
      >
        Bring in an element…
      </Button>
    </Box>
  );
}

function ElementRow({ entry, index }: { entry: PlateEntry; index: number }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: entry.id,
  });
  const chosen = useElement();
  const isWhole = useShot((state) => state.activePlate === entry.id);
  const settings = useShot((state) => elementOf(state.look, index));
  const change = useShot((state) => state.change);
  const card = usePlates((state) => state.cards[entry.id]);
  const failure = usePlates((state) => state.failures[entry.id]);
  const set = useDesk((state) => state.set);
  const isChosen = chosen.index === index;
  const opacity = { ...settingAt(elementPath(index, 'opacity')), group: entry.name } as NumberSetting;
  return (
    <Box
      ref={setNodeRef}
      role="listitem"
      style={{ transform: CSS.Transform.toString(transform), transition }}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.25,
        minHeight: 34,
        opacity: settings.on ? 1 : 0.6,
        bgcolor: isDragging ? 'background.paper' : undefined,
      }}
    >
      <Tooltip title="Drag to change the order, or press M and the arrow keys" placement="left">
        <Box
          component="span"
          {...attributes}
          {...listeners}
          aria-label={`Move ${entry.name}`}
          sx={{
            width: 24,
            height: 24,
            display: 'grid',
            placeItems: 'center',
            cursor: 'grab',
            color: 'text.secondary',
          }}
        >
          <DragIndicator sx={{ fontSize: 15 }} />
        </Box>
      </Tooltip>
      <ButtonBase
        role="switch"
        aria-checked={settings.on}
        aria-label={`${entry.name} on`}
        onClick={() => change(elementPath(index, 'on'), !settings.on)}
        sx={{ width: 24, height: 24 }}
      >
        <SwitchDot on={settings.on} />
      </ButtonBase>
      <ThumbnailButton
        bitmap={card?.thumbnail}
        label={`Work on ${entry.name}`}
        pressed={isChosen}
        onClick={() => set({ element: index })}
        width={44}
      >
        {entry.name}
        {(failure || settings.mode !== 'over') && (
          <Box sx={{ fontSize: 11, color: failure ? 'error.main' : 'text.secondary' }}>
            {failure ? 'cannot be opened' : settings.mode}
          </Box>
        )}
      </ThumbnailButton>
      <Box sx={{ width: 58 }}>
        <NumberField
          setting={opacity}
          value={settings.opacity}
          onChange={(next) => change(opacity.path, next)}
        />
      </Box>
      <IconButton
        size="small"
        aria-label={`Remove ${entry.name} from the plate`}
        disabled={isWhole}
        onClick={() => removePlate(entry.id)}
        sx={{ width: 24, height: 24, visibility: isWhole ? 'hidden' : undefined }}
      >
        <Close sx={{ fontSize: 14 }} />
      </IconButton>
    </Box>
  );
}
