const devices = /^(?:con|prn|aux|nul|com\d|lpt\d)$/iu;

/** Whether a name is the one of a device on some system, whatever its ending (Win32, Naming Files): no file may be called so there. */
export const isDeviceName = (name: string): boolean => devices.test(name);
