import type { Prediction } from '@gentle-compass/core/predict';
export const predictionText = (p: Prediction, names: readonly string[]): string => `${p.design.routers.length} ${names.length}\n`;
