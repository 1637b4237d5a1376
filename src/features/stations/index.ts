export { AXIS } from './station-view';
export { StationPanel } from './StationPanel';
export { STATION_VIEWS } from './views';
