export function memoryFolder(): string | undefined
