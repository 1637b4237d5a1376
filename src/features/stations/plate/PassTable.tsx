'use client';
import { closestCenter, DndContext } from '@dnd-kit/core';
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import DragIndicator from '@mui/icons-material/DragIndicator';
import ExpandMore from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { ROLES, type Role } from '../../../core/image/roles';
import { elementPath, getSetting, passPath, settingAt } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import type { Setting } from '../../../core/settings/setting';
import type { PassInfo } from '../../../engine/messages';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { Pill, ThumbnailButton, useSortSensors } from '../../common';
import { renderId, setRole, usePlates, type PlateCard } from '../../session';
import { useElement } from './use-element';
import { NumberField, type NumberSetting, SELECT_SX, SettingRow } from '../../controls';

/** A setting of one pass, under the pass's own name. */
function settingOf(element: number, pass: string, name: string): Setting {
  return { ...settingAt(passPath(element, pass, name)), group: pass };
}

/** Every pass: a look at it, what it is, and, if it is part of the picture's light, what is done to it in the sum. */
export function PassTable() {
  const { index: element, card } = useElement();
  const order = useShot((state) => elementOf(state.look, element).order);
  const change = useShot((state) => state.change);
  const sensors = useSortSensors();
  if (!card) return <Box sx={{ color: 'text.secondary' }}>No plate is on the bench.</Box>;
  const place = (name: string): number => (order.includes(name) ? order.indexOf(name) : order.length);
  const components = card.passes
    .filter((pass) => pass.component)
    .map((pass, index) => ({ pass, index }))
    .sort((a, b) => place(a.pass.name) - place(b.pass.name) || a.index - b.index)
    .map(({ pass }) => pass);
  const others = card.passes.filter((pass) => !pass.component);
  const names = components.map((pass) => pass.name);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => {
        if (!over || active.id === over.id) return;
        const [from, to] = [active.id, over.id].map((id) => names.indexOf(String(id)));
        change(elementPath(element, 'order'), arrayMove(names, from!, to!));
      }}
    >
      <SortableContext items={names} strategy={verticalListSortingStrategy}>
        <Box role="list" aria-label="Passes">
          {components.map((pass) => (
            <ComponentRow key={pass.name} pass={pass} card={card} />
          ))}
          {others.map((pass) => (
            <Box role="listitem" key={pass.name}>
              <PassHead pass={pass} card={card} lead={<Box sx={{ width: 16 }} />}>
                <RoleChoice pass={pass} card={card} />
              </PassHead>
              {pass.doubt && <PassNote>Not in the sum: {pass.doubt}. Say what it is to add it</PassNote>}
              <OlderNote pass={pass} />
            </Box>
          ))}
        </Box>
      </SortableContext>
    </DndContext>
  );
}

function ComponentRow({ pass, card }: { pass: PassInfo; card: PlateCard }) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: pass.name,
  });
  const [open, setOpen] = useState(false);
  const { index: element } = useElement();
  const gain = settingOf(element, pass.name, 'gain') as NumberSetting;
  const value = useShot((state) => getSetting(state.look, gain.path) as number);
  const change = useShot((state) => state.change);
  const on = useShot((state) => getSetting(state.look, passPath(element, pass.name, 'on')) as boolean);
  return (
    <Box
      ref={setNodeRef}
      role="listitem"
      style={{ transform: CSS.Transform.toString(transform), transition }}
      sx={{ bgcolor: isDragging ? 'background.paper' : undefined, opacity: on ? 1 : 0.6 }}
    >
      <PassHead
        pass={pass}
        card={card}
        lead={
          <Tooltip title="Drag to change the order; it matters where a pass is screened" placement="left">
            <Box
              component="span"
              {...attributes}
              {...listeners}
              aria-label={`Move ${pass.name}`}
              sx={{ width: 16, display: 'flex', cursor: 'grab', color: 'text.secondary' }}
            >
              <DragIndicator sx={{ fontSize: 15 }} />
            </Box>
          </Tooltip>
        }
      >
        <Box sx={{ width: 58 }}>
          <NumberField setting={gain} value={value} onChange={(next) => change(gain.path, next)} />
        </Box>
        <PassSwitch pass={pass.name} name="solo" label="solo" />
        <PassSwitch pass={pass.name} name="on" label="on" />
        <IconButton
          size="small"
          aria-label={`Settings of ${pass.name}`}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          sx={{ p: 0.5, color: 'text.secondary' }}
        >
          <ExpandMore sx={{ fontSize: 16, transform: open ? 'rotate(180deg)' : 'none' }} />
        </IconButton>
      </PassHead>
      <OlderNote pass={pass} />
      {open && (
        <Box sx={{ pl: 2, pb: 1, borderLeft: '1px solid', borderColor: 'divider', ml: 1 }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 28 }}>
            <Box sx={{ width: 84 }}>Is</Box>
            <RoleChoice pass={pass} card={card} />
          </Box>
          {['tint', 'mode', 'inLow', 'inHigh', 'gamma', 'outLow', 'outHigh', 'curve'].map((name) => (
            <SettingRow key={name} setting={settingOf(element, pass.name, name)} />
          ))}
        </Box>
      )}
    </Box>
  );
}

function PassNote({ children }: { children: React.ReactNode }) {
  return <Box sx={{ pl: 7.5, pb: 0.5, fontSize: 11, color: 'text.secondary' }}>{children}</Box>;
}

/** Says that a pass is not of the render that is on the bench. */
function OlderNote({ pass }: { pass: PassInfo }) {
  return pass.older !== undefined && <PassNote>Still of {pass.older}; the newest has none</PassNote>;
}

function PassSwitch({ pass, name, label }: { pass: string; name: 'on' | 'solo'; label: string }) {
  const { index: element } = useElement();
  const path = passPath(element, pass, name);
  const value = useShot((state) => getSetting(state.look, path) as boolean);
  const change = useShot((state) => state.change);
  return (
    <Pill
      role="switch"
      on={value}
      label={label}
      name={`${pass} ${label}`}
      onClick={() => change(path, !value)}
    />
  );
}

interface PassHeadProps {
  pass: PassInfo;
  card: PlateCard;
  lead: React.ReactNode;
  children: React.ReactNode;
}

/** Thumbnail and name; a click looks at the pass, another one goes back to the final. */
function PassHead({ pass, card, lead, children }: PassHeadProps) {
  const { index: element, count } = useElement();
  const thumbnail = usePlates((state) => state.thumbnails[renderId(card)]?.[pass.name]);
  const of = count > 1 ? { element } : {};
  const looked = useDesk(
    ({ subject }) =>
      subject.kind === 'pass' && subject.pass === pass.name && (count === 1 || subject.element === element),
  );
  const set = useDesk((state) => state.set);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 30 }}>
      {lead}
      <ThumbnailButton
        bitmap={thumbnail}
        label={`Look at ${pass.name}`}
        pressed={looked}
        onClick={() =>
          set({ subject: looked ? { kind: 'final' } : { kind: 'pass', pass: pass.name, ...of } })
        }
      >
        {pass.name}
      </ThumbnailButton>
      {children}
    </Box>
  );
}

const BY_NAME = 'by name';

/** What a pass is; the guess from its name can be corrected. */
function RoleChoice({ pass, card }: { pass: PassInfo; card: PlateCard }) {
  const corrected = useShot((state) =>
    Object.hasOwn(state.plates.find(({ id }) => id === card.plate)?.roles ?? {}, pass.name),
  );
  return (
    <Select
      value={pass.role}
      onChange={(event) => {
        const role = event.target.value as Role | typeof BY_NAME;
        void setRole(card.plate, pass.name, role === BY_NAME ? null : role);
      }}
      variant="outlined"
      inputProps={{ 'aria-label': `What ${pass.name} is` }}
      sx={{ ...SELECT_SX, width: 112, color: corrected ? 'primary.main' : undefined }}
    >
      {ROLES.map(({ value, label }) => (
        <MenuItem key={value} value={value} dense>
          {label}
        </MenuItem>
      ))}
      {corrected && (
        <MenuItem value={BY_NAME} dense>
          as its name says
        </MenuItem>
      )}
    </Select>
  );
}
