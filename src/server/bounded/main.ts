// The entry of a process in which files of strangers are read: it holds no secret, knows no database, and is ended when it takes too long.
import { worker } from 'workerpool';
import { TASKS } from './tasks';

worker(TASKS);
