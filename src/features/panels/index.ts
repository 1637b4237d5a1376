export { NumberField } from './NumberRow';
export { StationPanel } from './StationPanel';
export { STATION_LABELS } from './station-labels';
