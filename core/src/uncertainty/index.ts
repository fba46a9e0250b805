export { foundError, outOfTolerance, type CalibrationPoint } from './calibration';
export { conformance, guarded, tooCoarse } from './conformance';
export { uncertaintyOfLoss, uncertaintyOfRatio, uncertaintyOfReading, type GaugeFigures, type OtherTerms } from './gauge';
export { CAN_ERR, normalCdf, ONE_SIDED_95 } from './normal';
