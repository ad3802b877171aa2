/** The rooms that run live, and those that lead to them: fetched as one when Today stands, and kept in this browser, so that they go on without a
 * server. */
export { BenchIndex } from "./bench/BenchIndex";
export { BenchRun } from "./bench/BenchRun";
export { BenchSetup } from "./bench/BenchSetup";
export { ClassScreen } from "./class/ClassScreen";
export { Floor } from "./floor/Floor";
export { Plan } from "./plan/Plan";
export { PlanDay } from "./test-day/PlanDay";
export { TestDay } from "./test-day/TestDay";
export { TraineeScreen } from "./trainee/TraineeScreen";
