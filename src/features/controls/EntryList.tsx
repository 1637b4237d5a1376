'use client';
import Add from '@mui/icons-material/Add';
import ArrowDownward from '@mui/icons-material/ArrowDownward';
import ArrowUpward from '@mui/icons-material/ArrowUpward';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import type { ReactNode } from 'react';
import { parseLook } from '../../core/look/look';
import { useShot } from '../../state/shot-store';
import { Pill } from '../common';

/** The list of a look that a path like `veil.stack` names. */
type ListPath = 'veil.stack' | 'veil.streaks' | 'ghosts.lights' | 'ghosts.mirror' | 'glass.pieces';

function listAt(path: ListPath): readonly unknown[] {
  const [section, list] = path.split('.') as ['veil', 'stack'];
  return useShot.getState().look[section][list];
}

/** Puts other entries into a list of the look, as one step. What an entry leaves out takes its default. */
export function putEntries(path: ListPath, next: readonly unknown[]): void {
  const { look, setLook } = useShot.getState();
  const [section, list] = path.split('.') as ['veil', 'stack'];
  setLook(parseLook({ ...look, [section]: { ...look[section], [list]: next } }));
}

interface EntryListProps {
  path: ListPath;
  entries: readonly { on: boolean }[];
  /** The most that there may be. */
  most: number;
  addLabel: string;
  /** What a new entry has that is not at its default. */
  newEntry: () => object;
  nameOf: (index: number) => string;
  /** What stands under an entry's head. */
  children: (index: number) => ReactNode;
  /** The entry that alone is unfolded; all are if it is undefined. */
  chosen?: number | null;
  onChoose?: (index: number | null) => void;
}

/** Entries of a list, each with a head and its settings: added, removed, put in order, switched. */
export function EntryList(props: EntryListProps) {
  const { path, entries, most, addLabel, newEntry, onChoose } = props;
  return (
    <Box>
      {entries.map((_, index) => (
        <Entry key={index} {...props} index={index} />
      ))}
      <Button
        data-list={path}
        size="small"
        color="inherit"
        startIcon={<Add />}
        disabled={entries.length >= most}
        onClick={() => {
          putEntries(path, [...listAt(path), newEntry()]);
          onChoose?.(entries.length);
        }}
        sx={{ color: 'text.secondary' }}
      >
        {addLabel}
      </Button>
    </Box>
  );
}

function Entry({
  path,
  entries,
  nameOf,
  children,
  chosen,
  onChoose,
  index,
}: EntryListProps & { index: number }) {
  const change = useShot((state) => state.change);
  const { on } = entries[index]!;
  const name = nameOf(index);
  const isOpen = chosen === undefined || chosen === index;
  const move = (by: 1 | -1): void => {
    const next = [...listAt(path)];
    [next[index], next[index + by]] = [next[index + by]!, next[index]!];
    putEntries(path, next);
    if (chosen === index) onChoose?.(index + by);
  };
  const buttons = [
    { label: `Move ${name} up`, icon: ArrowUpward, off: index === 0, press: () => move(-1) },
    {
      label: `Move ${name} down`,
      icon: ArrowDownward,
      off: index === entries.length - 1,
      press: () => move(1),
    },
    {
      label: `Remove ${name}`,
      icon: Close,
      off: false,
      press: () => {
        putEntries(
          path,
          listAt(path).filter((_, k) => k !== index),
        );
        onChoose?.(null);
      },
    },
  ];
  return (
    <Box component="section" aria-label={name} sx={{ pb: isOpen ? 1 : 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 28 }}>
        <Box
          {...(onChoose && {
            component: 'button',
            'aria-expanded': isOpen,
            onClick: () => onChoose(isOpen ? null : index),
          })}
          sx={{
            flex: 1,
            minWidth: 0,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
            ...(onChoose && {
              border: 0,
              p: 0,
              minHeight: 24,
              textAlign: 'left',
              font: 'inherit',
              cursor: 'pointer',
              bgcolor: 'transparent',
              color: isOpen ? 'primary.main' : 'text.primary',
            }),
          }}
        >
          {name}
        </Box>
        <Pill
          role="switch"
          on={on}
          label={on ? 'on' : 'off'}
          name={`${name} on`}
          onClick={() => change(`${path}[${index}].on`, !on)}
        />
        {buttons.map(({ label, icon: Icon, off, press }) => (
          <IconButton
            key={label}
            size="small"
            aria-label={label}
            disabled={off}
            onClick={press}
            sx={{ p: 0.5 }}
          >
            <Icon sx={{ fontSize: 14 }} />
          </IconButton>
        ))}
      </Box>
      {isOpen && <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider' }}>{children(index)}</Box>}
    </Box>
  );
}
