export { VELDMAR_ZONE, SESSION_CLOSE, isZone, instantInZone, civilInZone, isoInZone } from './zone.ts';
