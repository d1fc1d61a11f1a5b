using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>From the model into its tables.</summary>
internal static class ModelRows
{
    /// <summary>Writes changes whatever their order: what goes is out of the way first, and codes and names that change are let go of
    /// before they are given anew.</summary>
    public static void Write(SqliteConnection connection, SqliteTransaction transaction, IReadOnlyCollection<ModelChange> changes)
    {
        var gone = new RowBatch();
        foreach (var change in changes.Where(c => c.After is null))
            Write(gone, change);
        gone.Execute(connection, transaction);
        if (changes.Count > 1)
        {
            var letGo = new RowBatch();
            foreach (var change in changes)
                if (LetGo(change) is { } sql)
                    letGo.Add(sql, change.After!);
            letGo.Execute(connection, transaction);
        }
        var there = new RowBatch();
        foreach (var change in changes.Where(c => c.After is not null))
            Write(there, change);
        there.Execute(connection, transaction);
    }

    private static string? LetGo(ModelChange change) =>
        (change.Before, change.After) switch
        {
            (StateList was, StateList now) when was.Code != now.Code => "UPDATE state_list SET code = '~' || id WHERE id = @Id",
            (LibraryScale was, LibraryScale now) when was.Code != now.Code => "UPDATE library_scale SET code = '~' || id WHERE id = @Id",
            (OwnUnit was, OwnUnit now) when was.Code != now.Code => "UPDATE own_unit SET code = '~' || id WHERE id = @Id",
            (Template was, Template now) when was.Code != now.Code =>
                "DELETE FROM property WHERE template_id = @Id; DELETE FROM template_part WHERE template_id = @Id; UPDATE template SET "
                    + "code = '~' || id WHERE id = @Id",
            (Template, Template) => "DELETE FROM property WHERE template_id = @Id; DELETE FROM template_part WHERE template_id = @Id",
            (Equipment was, Equipment now) when (was.Code, was.ParentId) != (now.Code, now.ParentId) =>
                "UPDATE equipment SET code = '~' || id WHERE id = @Id",
            (DeviceLayout was, DeviceLayout now) when was.Code != now.Code => "UPDATE device_layout SET code = '~' || id WHERE id = @Id",
            (Controller was, Controller now) when was.Name != now.Name => "UPDATE controller SET name = '~' || id WHERE id = @Id",
            (Tag was, Tag now) when (was.Name, was.ControllerId) != (now.Name, now.ControllerId) =>
                "UPDATE tag SET name = '~' || id WHERE id = @Id",
            _ => null,
        };

    private static void Write(RowBatch batch, ModelChange change)
    {
        foreach (var (sql, parameters) in EntityKinds.Visit((change.After ?? change.Before)!, new EntityRows(change)))
            batch.Add(sql, parameters);
    }
}
