using System.Collections;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>Statements of many entities, run statement by statement and not entity by entity: each is prepared once, however many rows it
/// writes.</summary>
/// <remarks>
/// Statements run in the order in which they first came. That is the order within every entity as long as each kind of entity adds its own
/// in one order;
/// between entities no order matters, since references are looked at when the transaction ends.
/// </remarks>
internal sealed class RowBatch
{
    private readonly Dictionary<string, List<object>> _rows = [];
    private readonly List<string> _order = [];

    /// <summary>Adds a statement for one set of parameters, or for each of several.</summary>
    public void Add(string sql, object parameters)
    {
        if (!_rows.TryGetValue(sql, out var rows))
        {
            _rows[sql] = rows = [];
            _order.Add(sql);
        }
        if (parameters is IEnumerable several)
            rows.AddRange(several.Cast<object>());
        else
            rows.Add(parameters);
    }

    public void Execute(SqliteConnection connection, SqliteTransaction transaction)
    {
        foreach (var sql in _order)
            if (_rows[sql] is { Count: > 0 } rows)
                connection.Execute(sql, rows, transaction);
    }
}
