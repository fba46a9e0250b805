export { driftEqualToLoss, pressurePerKelvin, REFERENCE_TEMPERATURE_K, STANDARD_ATMOSPHERE_PA } from './sensitivity';
