export { AXIS } from './station-view';
export { StationPanel } from './StationPanel';
export { useGhostTable, useLights } from './use-ghosts';
export { STATION_VIEWS } from './views';
