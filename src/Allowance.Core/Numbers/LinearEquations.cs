namespace Allowance.Core.Numbers;

/// <summary>Systems of linear equations.</summary>
public static class LinearEquations
{
    /// <summary>
    /// Solves them in place by Gaussian elimination with the largest pivot of each column. A row holds the coefficients and,
    /// after them, one or more right sides; the solutions stand there afterwards.
    /// </summary>
    /// <exception cref="ArithmeticException">There is no single solution.</exception>
    public static void Solve(double[][] rows)
    {
        int n = rows.Length;
        for (int column = 0; column < n; column++)
        {
            int pivot = column;
            for (int row = column + 1; row < n; row++)
                if (Math.Abs(rows[row][column]) > Math.Abs(rows[pivot][column])) pivot = row;
            if (Math.Abs(rows[pivot][column]) < 1e-14) throw new ArithmeticException("These equations have no single solution.");
            (rows[column], rows[pivot]) = (rows[pivot], rows[column]);
            var top = rows[column];
            for (int row = column + 1; row < n; row++)
            {
                double factor = rows[row][column] / top[column];
                if (factor == 0) continue;
                Walks.Carry(top.AsSpan(column), -factor, rows[row].AsSpan(column));
            }
        }
        for (int row = n - 1; row >= 0; row--)
            for (int right = n; right < rows[row].Length; right++)
            {
                double sum = rows[row][right];
                for (int i = row + 1; i < n; i++) sum -= rows[row][i] * rows[i][right];
                rows[row][right] = sum / rows[row][row];
            }
    }
}
