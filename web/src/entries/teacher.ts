import { start } from "../language/start";
import { teacherWords } from "../language/teacher-words";

void start(teacherWords(), () => import("./teacher-page"));
