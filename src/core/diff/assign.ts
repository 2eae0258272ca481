/**
 * The assignment of rows to columns, each used at most once, whose weights are together the greatest (the Hungarian
 * method with potentials, after Kuhn and Munkres; time grows with the square of the rows times the columns).
 * @param weights one row for each of the one side, with a weight for each of the other; nothing below 0.
 * @returns for each row its column, or -1 where leaving it alone is as good.
 */
export function bestAssignment(weights: readonly (readonly number[])[]): readonly number[] {
  const rows = weights.length;
  const columns = Math.max(rows, weights[0]?.length ?? 0);
  const cost = (row: number, column: number): number => -(weights[row]?.[column] ?? 0);
  const rowPotential = new Float64Array(rows + 1);
  const columnPotential = new Float64Array(columns + 1);
  /** The row of each column, counted from 1; 0 for none. Column 0 stands for the row that is being placed. */
  const rowOf = new Int32Array(columns + 1);
  const cameFrom = new Int32Array(columns + 1);

  for (let row = 1; row <= rows; row += 1) {
    rowOf[0] = row;
    const least = new Float64Array(columns + 1).fill(Number.POSITIVE_INFINITY);
    const isDone = new Uint8Array(columns + 1);
    let column = 0;
    while (rowOf[column] !== 0) {
      isDone[column] = 1;
      const row = rowOf[column] ?? 0;
      let step = Number.POSITIVE_INFINITY;
      let next = 0;
      for (let other = 1; other <= columns; other += 1) {
        if (isDone[other]) continue;

        const reduced = cost(row - 1, other - 1) - (rowPotential[row] ?? 0) - (columnPotential[other] ?? 0);
        if (reduced < (least[other] ?? 0)) {
          least[other] = reduced;
          cameFrom[other] = column;
        }

        if ((least[other] ?? 0) < step) {
          step = least[other] ?? 0;
          next = other;
        }
      }

      for (let other = 0; other <= columns; other += 1)
        if (isDone[other]) {
          rowPotential[rowOf[other] ?? 0] = (rowPotential[rowOf[other] ?? 0] ?? 0) + step;
          columnPotential[other] = (columnPotential[other] ?? 0) - step;
        } else least[other] = (least[other] ?? 0) - step;

      column = next;
    }

    while (column !== 0) {
      const before = cameFrom[column] ?? 0;
      rowOf[column] = rowOf[before] ?? 0;
      column = before;
    }
  }

  const columnOf = new Array<number>(rows).fill(-1);
  for (let column = 1; column <= columns; column += 1) {
    const row = (rowOf[column] ?? 0) - 1;
    if (row >= 0 && (weights[row]?.[column - 1] ?? 0) > 0) columnOf[row] = column - 1;
  }

  return columnOf;
}
