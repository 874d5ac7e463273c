/// <reference lib="webworker" />
import { expose } from 'comlink';
import { Workbench } from './workbench';

expose(new Workbench());
