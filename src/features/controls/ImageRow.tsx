'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { isCube } from '../../core/formats/cube';
import { getSetting } from '../../core/look/look';
import { NO_IMAGE, type ImageMeta, type Setting } from '../../core/settings/setting';
import { useShot } from '../../state/shot-store';
import { BitmapPicture } from '../common';
import { removeImage, useFileChooser, usePlates } from '../session';
import { SELECT_SX } from './ChoiceRow';
import { ResetMark, ROW_COLUMNS, RowLabel } from './row';

/** What the list says for an image that is yet to be loaded. */
const LOAD = '\nload';
/** And for the one that is to leave the shot. */
const REMOVE = '\nremove';

/** One of the shot's images (or look-up tables), none, or one from a file. */
export function ImageRow({ setting }: { setting: Setting & ImageMeta }) {
  const value = useShot((state) => getSetting(state.look, setting.path) as string);
  const all = useShot((state) => state.images);
  const images = all.filter(({ name }) => isCube(name) === (setting.of === 'lut'));
  const own = images.find(({ name }) => name === value);
  const change = useShot((state) => state.change);
  const thumbnail = usePlates((state) => (own ? state.images[own.id] : undefined));
  const choose = useFileChooser();
  const missing = value !== NO_IMAGE && !own;
  return (
    <Box sx={ROW_COLUMNS} data-setting={setting.path}>
      <RowLabel setting={setting} />
      <Box sx={{ gridColumn: '2 / 4', display: 'flex', gap: 0.5, minWidth: 0 }}>
        {thumbnail && (
          <Box sx={{ width: 24, height: 22, flex: 'none', overflow: 'hidden' }}>
            <BitmapPicture bitmap={thumbnail} label="" fill />
          </Box>
        )}
        <Select
          value={value}
          displayEmpty
          onChange={({ target }) =>
            target.value === LOAD
              ? choose({ kind: 'image', path: setting.path })
              : target.value === REMOVE
                ? own && removeImage(own.id)
                : change(setting.path, target.value)
          }
          variant="outlined"
          inputProps={{ 'aria-label': `${setting.group} ${setting.label}` }}
          sx={{ ...SELECT_SX, flex: 1, minWidth: 0 }}
        >
          <MenuItem value={NO_IMAGE} dense>
            none
          </MenuItem>
          {missing && (
            <MenuItem value={value} dense>
              {value} (missing)
            </MenuItem>
          )}
          {images.map(({ id, name }) => (
            <MenuItem key={id} value={name} dense>
              {name}
            </MenuItem>
          ))}
          <MenuItem value={LOAD} dense>
            From a file…
          </MenuItem>
          {own && (
            <MenuItem value={REMOVE} dense>
              Take {own.name} out of the shot
            </MenuItem>
          )}
        </Select>
      </Box>
      <ResetMark setting={setting} changed={value !== setting.default} />
    </Box>
  );
}
