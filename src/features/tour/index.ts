export { startTour, Tour, TourOffer } from './Tour';
