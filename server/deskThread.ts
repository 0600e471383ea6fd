import { workerData } from 'node:worker_threads';
import { answerQuestions } from '@relay/work/aside/answering';
import { arrivalTasks } from './arrivals/deskTasks.ts';
import { clipTasks } from './clips/deskTasks.ts';
import { correctionTasks } from './corrections/deskTasks.ts';
import { readyTask } from './desk/desk.ts';
import { openTools, type DeskSettings } from './desk/tools.ts';
import { refusalOf } from './http.ts';
import { cabinetTasks } from './cabinet/deskTasks.ts';
import { recipeTasks } from './recipes/deskTasks.ts';
import { cutTasks } from './cuts/deskTasks.ts';
import { handoffTasks } from './handoffs/deskTasks.ts';
import { originalTasks } from './originals/deskTasks.ts';
import { spaceTasks } from './space/deskTasks.ts';
import { swapTasks } from './swaps/deskTasks.ts';
import { runTasks } from './runs/deskTasks.ts';

/** The thread in which what goes through a whole production is done: it knows the tasks of all rooms. */
const tables = [
  arrivalTasks,
  clipTasks,
  correctionTasks,
  cabinetTasks,
  recipeTasks,
  runTasks,
  cutTasks,
  swapTasks,
  handoffTasks,
  originalTasks,
  spaceTasks,
  { [readyTask]: () => true },
];

type AnyTask = (...input: unknown[]) => unknown;
const tasks = new Map<string, AnyTask>();
for (const [name, task] of tables.flatMap((table) => Object.entries(table))) {
  if (tasks.has(name)) throw new Error(`two tasks of the desk are called ${name}`);
  tasks.set(name, task as AnyTask);
}

const tools = openTools(workerData as DeskSettings);

answerQuestions(
  async ({ task, input }, signal) => {
    const work = tasks.get(task);
    if (!work) throw new Error(`the desk has no task ${task}`);
    return work({ ...(await tools()), signal }, ...input);
  },
  (error) => {
    const refused = refusalOf(error);
    return refused ? { status: refused.status, problem: refused.problem } : undefined;
  },
);
