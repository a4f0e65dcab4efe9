/** Unit codes that IODD files name (IODD-StandardUnitDefinitions 1.1, the common ones, from memory); a code that is not here is shown as its number. */
export const unitNames: ReadonlyMap<string, string> = new Map([
  ['1000', 'K'], ['1001', '°C'], ['1002', '°F'], ['1005', '°'], ['1010', 'm'], ['1011', 'km'], ['1012', 'cm'], ['1013', 'mm'], ['1014', 'µm'],
  ['1034', 'm³'], ['1038', 'l'], ['1054', 's'], ['1056', 'ms'], ['1058', 'min'], ['1059', 'h'], ['1060', 'd'], ['1061', 'm/s'], ['1077', 'Hz'], ['1081', 'kHz'], ['1085', '1/min'],
  ['1088', 'kg'], ['1089', 'g'], ['1130', 'Pa'], ['1132', 'MPa'], ['1133', 'kPa'], ['1137', 'bar'], ['1138', 'mbar'], ['1141', 'psi'],
  ['1209', 'A'], ['1211', 'mA'], ['1240', 'V'], ['1243', 'mV'], ['1281', 'Ω'], ['1284', 'kΩ'], ['1342', '%'],
  ['1347', 'm³/s'], ['1348', 'm³/min'], ['1349', 'm³/h'], ['1351', 'l/s'], ['1352', 'l/min'], ['1353', 'l/h'],
])
