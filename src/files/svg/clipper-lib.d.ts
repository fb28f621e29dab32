declare module 'clipper-lib' {
  interface Whole {
    X: number;
    Y: number;
  }
  class Clipper {
    AddPaths(paths: Whole[][], type: number, closed: boolean): boolean;
    Execute(type: number, solution: Whole[][], subject: number, clip: number): boolean;
    static SimplifyPolygons(paths: Whole[][], fill: number): Whole[][];
    static Area(path: Whole[]): number;
    static Orientation(path: Whole[]): boolean;
  }
  const lib: {
    Clipper: typeof Clipper;
    PolyFillType: { pftEvenOdd: number; pftNonZero: number };
    PolyType: { ptSubject: number; ptClip: number };
    ClipType: { ctUnion: number };
  };
  export default lib;
}
