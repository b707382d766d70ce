/** Boltzmann constant, J/K, and elementary charge, C: exact by definition (BIPM, The International System of Units, 2019). */
export const BOLTZMANN = 1.380649e-23
export const CHARGE = 1.602176634e-19

/** 0 °C in K: exact by definition (BIPM, as above). */
export const ZERO_CELSIUS = 273.15

/** Temperature at which model parameters hold, K: 27 °C (common practice, no source). */
export const NOMINAL_TEMPERATURE = 300.15

/** kT/q, V. */
export const thermalVoltage = (temperature: number): number => (BOLTZMANN * temperature) / CHARGE

/** Permittivity of silicon dioxide, 3.9·ε₀, F/m. */
export const OXIDE_PERMITTIVITY = 3.9 * 8.8541878128e-12
