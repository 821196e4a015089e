export {
  civilInZone,
  INSTANT_RANGE,
  instantInZone,
  instantOf,
  isCivilDate,
  isInRange,
  isoInZone,
  isZone,
  SESSION_CLOSE,
  VELDMAR_ZONE,
} from './zone.ts';
