'use client';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { SETTINGS, STATION_LABELS, stationOfPath, type StationId } from '../../core/look/look';
import { NAME, PLACE, type Setting } from '../../core/settings/setting';
import { useDesk } from '../../state/desk-store';
import { PanelBoundary } from '../common';
import { SettingRow } from '../controls';
import { STATION_VIEWS } from './views';

/** Settings of a station that its panel does not show by itself. */
function uncovered(station: StationId, covers: readonly string[]): Setting[] {
  const isCovered = (path: string): boolean =>
    covers.some(
      (prefix) => path === prefix || path.startsWith(`${prefix}.`) || path.startsWith(`${prefix}[`),
    );
  return SETTINGS.filter(
    ({ path }) =>
      path !== `${station}.on` &&
      // Settings of single passes and of lists' entries have no row of their own.
      !path.includes(`.${NAME}.`) &&
      !path.includes(PLACE) &&
      stationOfPath(path) === station &&
      !isCovered(path),
  );
}

/** The settings of the selected station, laid out from the look's schema. */
export function StationPanel() {
  const station = useDesk((state) => state.station);
  const { Panel, covers = [] } = STATION_VIEWS.find(({ id }) => id === station)!;
  const own = uncovered(station, covers);
  const groups = [...new Set(own.map((setting) => setting.group))];
  return (
    <Box
      component="aside"
      aria-label={`${STATION_LABELS[station]} settings`}
      sx={{
        width: 319,
        flex: 'none',
        overflowY: 'auto',
        bgcolor: 'background.default',
        px: 1.5,
        pb: 2,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', justifyContent: 'space-between', py: 1.25 }}>
        <Typography component="h2" sx={{ fontSize: 14, fontWeight: 600 }}>
          {STATION_LABELS[station]}
        </Typography>
        <Moved />
      </Box>
      {Panel && (
        <PanelBoundary key={station} name={`The panel of ${STATION_LABELS[station]}`}>
          <Panel />
        </PanelBoundary>
      )}
      {groups.map((group) => (
        <Box
          key={group}
          component="section"
          aria-label={group}
          sx={{ borderTop: '1px solid', borderColor: 'divider', py: 1 }}
        >
          {group !== STATION_LABELS[station] && (
            <Typography component="h3" sx={{ fontSize: 12, fontWeight: 600, pb: 0.5 }}>
              {group}
            </Typography>
          )}
          {own
            .filter((setting) => setting.group === group)
            .map((setting) => (
              <SettingRow key={setting.path} setting={setting} />
            ))}
        </Box>
      ))}
    </Box>
  );
}

/** How much of the light the selected station moves. */
function Moved() {
  const account = useDesk((state) => state.accounts[state.station]);
  if (!account) return null;
  return (
    <Typography component="span" sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary' }}>
      moves {(account.moved * 100).toFixed(2)} % of the light
    </Typography>
  );
}
