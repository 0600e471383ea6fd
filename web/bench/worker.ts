import type { Question } from './messages.ts';
import { answer } from './work.ts';

self.onmessage = ({ data: { id, question } }: MessageEvent<{ id: number; question: Question }>) => {
  try {
    self.postMessage({ id, answer: answer(question) });
  } catch (error) {
    self.postMessage({ id, failed: String(error) });
  }
};
