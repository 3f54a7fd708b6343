/** Doors between the folders of the screen: who may import whom. */
const desk = "^src/desk/";
module.exports = {
  forbidden: [
    {
      name: "no-circles-between-screens",
      comment: "Screens know the application's base and shared parts, not each other.",
      severity: "error",
      from: { path: "^src/(shelf|signin|history|trials|stills|kit|days|desk)/" },
      to: { path: "^src/(shelf|signin|history|trials|stills|kit|days|desk)/", pathNot: "^src/$1/" },
    },
    {
      name: "parts-know-no-screen",
      severity: "error",
      from: { path: "^src/parts/" },
      to: { path: "^src/(shelf|signin|history|trials|stills|kit|days|desk)/" },
    },
    {
      name: "app-knows-screens-only-by-its-routes",
      severity: "error",
      from: { path: "^src/app/", pathNot: "^src/app/App\\.tsx$" },
      to: { path: "^src/(shelf|signin|history|trials|stills|kit|days|desk)/" },
    },
    {
      name: "session-knows-nothing-of-light",
      comment: "Storing must not hang on what is stored.",
      severity: "error",
      from: { path: `${desk}session/`, pathNot: "\\.test\\." },
      to: { path: `${desk}(frame|plan|units|grip|camera|place|meter|order|compare|work)/` },
    },
    {
      name: "frame-is-below-what-the-hand-holds",
      severity: "error",
      from: { path: `${desk}frame/`, pathNot: "\\.test\\." },
      to: { path: `${desk}(units|grip|camera|place|meter|order)/` },
    },
    { name: "nothing-unreachable", severity: "error", from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
    enhancedResolveOptions: {
      extensions: [".ts", ".tsx", ".d.ts", ".js", ".json", ".css"],
      exportsFields: ["exports"],
      conditionNames: ["import", "types", "default"],
    },
  },
};
