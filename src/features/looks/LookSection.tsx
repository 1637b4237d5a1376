'use client';
import AutoAwesomeMosaicOutlined from '@mui/icons-material/AutoAwesomeMosaicOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { trimsOf } from '../../core/look/whole-look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { followedChange, takeFollowed, useLooks } from '../session';

/** The look that the shot follows, what changed in it, and the way to all whole looks. */
export function LookSection() {
  const isOpen = useDesk((state) => state.looks);
  const set = useDesk((state) => state.set);
  return (
    <>
      <Followed />
      <Button
        size="small"
        color="inherit"
        startIcon={<AutoAwesomeMosaicOutlined />}
        aria-pressed={isOpen}
        onClick={() => set({ looks: !isOpen, strip: null })}
        sx={{ color: 'text.secondary', justifyContent: 'flex-start' }}
        fullWidth
      >
        Whole looks
      </Button>
    </>
  );
}

function Followed() {
  const follows = useShot((state) => state.follows);
  const look = useShot((state) => state.look);
  const looks = useLooks((state) => state.looks);
  const [left, setLeft] = useState<string | null>(null);
  if (!follows) return null;
  const trims = trimsOf(follows.look, look).length;
  const change = followedChange({ follows, look }, looks);
  const key = change && `${change.kept.id} ${change.kept.time}`;
  return (
    <Box sx={{ fontSize: 11, pb: 0.5, overflowWrap: 'anywhere' }}>
      <Box>
        follows {follows.name}
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {trims === 0 ? '' : trims === 1 ? ', 1 trim' : `, ${trims} trims`}
        </Box>
      </Box>
      {change && left !== key && (
        <Box role="status" sx={{ color: 'primary.main', py: 0.25 }}>
          It has changed since: {change.paths.length === 1 ? '1 setting' : `${change.paths.length} settings`}{' '}
          here.
          <Box>
            <Small onClick={() => takeFollowed(change)}>Take them</Small>
            <Small onClick={() => setLeft(key!)}>Not now</Small>
          </Box>
        </Box>
      )}
      <Small onClick={() => useShot.getState().follow(null)}>Follow it no more</Small>
    </Box>
  );
}

function Small({ onClick, children }: { onClick: () => void; children: React.ReactNode }) {
  return (
    <Button size="small" color="inherit" onClick={onClick} sx={{ fontSize: 11, py: 0, px: 0.5, minWidth: 0 }}>
      {children}
    </Button>
  );
}
