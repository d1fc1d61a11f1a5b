using CsCheck;
using Fralto.Core.Proposals;

namespace Fralto.Core.Tests;

public sealed class AssignmentTests
{
    [Fact]
    [Trait("source", "exhaustive search")]
    public void No_other_way_to_assign_gains_more() =>
        Gen.Select(Gen.Int[1, 6], Gen.Int[1, 6], Gen.Int[0, 9].Array[36], Gen.Bool.Array[36])
            .Sample(
                (rows, columns, gains, there) =>
                {
                    var pairs = (
                        from r in Enumerable.Range(0, rows)
                        from c in Enumerable.Range(0, columns)
                        where there[r * 6 + c]
                        select (r, c, (double)gains[r * 6 + c])
                    ).ToArray();
                    var given = SparseAssignment.Solve(rows, columns, pairs);
                    given.Where(c => c >= 0).ShouldBeUnique();
                    var gained = given.Select((c, r) => c < 0 ? 0 : pairs.Single(p => p.r == r && p.c == c).Item3).Sum();
                    gained.ShouldBe(Best(pairs, rows, 0, 0), 1e-9);
                },
                iter: 3000
            );

    [Fact]
    public void First_come_is_not_first_served()
    {
        // The first row would like column 0 best, but only column 0 will do for the second.
        SparseAssignment.Solve(2, 2, [(0, 0, 5), (0, 1, 4), (1, 0, 5)]).ShouldBe([1, 0]);
        SparseAssignment.Solve(2, 1, [(0, 0, 1), (1, 0, 2)]).ShouldBe([-1, 0]);
        SparseAssignment.Solve(1, 1, [(0, 0, -1)]).ShouldBe([-1]);
        SparseAssignment.Solve(0, 0, []).ShouldBeEmpty();
    }

    private static double Best((int r, int c, double Gain)[] pairs, int rows, int row, int taken) =>
        row == rows
            ? 0
            : pairs
                .Where(p => p.r == row && (taken & (1 << p.c)) == 0)
                .Select(p => p.Gain + Best(pairs, rows, row + 1, taken | (1 << p.c)))
                .Append(Best(pairs, rows, row + 1, taken))
                .Max();
}
