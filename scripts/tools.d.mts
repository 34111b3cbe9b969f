export function postgresProgram(name: string): string;
