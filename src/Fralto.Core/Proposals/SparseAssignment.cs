namespace Fralto.Core.Proposals;

/// <summary>Gives each row at most one column and each column to at most one row so that the sum of the gains is the largest there
/// is.</summary>
/// <remarks>
/// Successive shortest augmenting paths with potentials (Jonker and Volgenant 1987; Edmonds and Karp 1972) over the pairs that exist, so a
/// thin matrix
/// costs what it has pairs. Leaving a row without a column gains 0, so pairs of negative gain are never made.
/// </remarks>
public static class SparseAssignment
{
    /// <summary>Solves an assignment.</summary>
    /// <param name="rows">How many rows.</param>
    /// <param name="columns">How many columns.</param>
    /// <param name="pairs">The pairs that may be made, with their gain.</param>
    /// <returns>The column of each row, -1 for none.</returns>
    public static int[] Solve(int rows, int columns, IReadOnlyList<(int Row, int Column, double Gain)> pairs)
    {
        // Each row has a column of its own that gains nothing, so every row can be assigned and costs never fall below zero.
        var starts = new int[rows + 1];
        foreach (var pair in pairs)
            if (pair.Gain > 0)
                starts[pair.Row + 1]++;
        for (var i = 0; i < rows; i++)
            starts[i + 1] += starts[i];
        var (target, cost, fill) = (new int[starts[rows]], new double[starts[rows]], (int[])starts.Clone());
        var most = pairs.Count == 0 ? 0 : pairs.Max(p => p.Gain);
        foreach (var (row, column, gain) in pairs)
        {
            if (gain <= 0)
                continue;
            (target[fill[row]], cost[fill[row]]) = (column, most - gain);
            fill[row]++;
        }
        var (columnOf, rowOf) = (new int[rows], new int[columns + rows]);
        Array.Fill(columnOf, -1);
        Array.Fill(rowOf, -1);
        var (potential, distance, cameFrom) = (new double[columns + rows], new double[columns + rows], new int[columns + rows]);
        var (seen, settled) = (new bool[columns + rows], new bool[columns + rows]);
        var touched = new List<int>();
        var queue = new PriorityQueue<int, double>();
        for (var free = 0; free < rows; free++)
        {
            touched.Clear();
            queue.Clear();
            var (row, reached, end, lowest) = (free, 0.0, -1, 0.0);
            while (end < 0)
            {
                // Reduced costs of the tree row are zero on its own column, so the row's level is the distance at which it was reached.
                var level = columnOf[row] >= 0 ? reached - (CostOf(row, columnOf[row]) - potential[columnOf[row]]) : 0;
                for (var i = starts[row]; i < starts[row + 1]; i++)
                    Relax(row, target[i], level + cost[i] - potential[target[i]]);
                Relax(row, columns + row, level + most - potential[columns + row]);
                int next;
                do next = queue.Dequeue();
                while (settled[next]);
                settled[next] = true;
                reached = distance[next];
                if (rowOf[next] < 0)
                    (end, lowest) = (next, reached);
                else
                    row = rowOf[next];
            }
            foreach (var column in touched)
            {
                if (settled[column])
                    potential[column] += distance[column] - lowest;
            }
            for (var column = end; column >= 0; )
            {
                var by = cameFrom[column];
                var before = columnOf[by];
                (columnOf[by], rowOf[column]) = (column, by);
                column = by == free ? -1 : before;
            }
            foreach (var column in touched)
                (seen[column], settled[column]) = (false, false);
        }
        return [.. columnOf.Select(c => c < columns ? c : -1)];

        double CostOf(int row, int column)
        {
            if (column >= columns)
                return most;
            for (var i = starts[row]; i < starts[row + 1]; i++)
                if (target[i] == column)
                    return cost[i];
            return most;
        }

        void Relax(int row, int column, double length)
        {
            if (settled[column])
                return;
            if (!seen[column])
                touched.Add(column);
            else if (length >= distance[column])
                return;
            (seen[column], distance[column], cameFrom[column]) = (true, length, row);
            queue.Enqueue(column, length);
        }
    }
}
