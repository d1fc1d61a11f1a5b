using ArchUnitNET.Loader;
using Fralto.Core.Plant;

namespace Fralto.Core.Tests;

/// <summary>The folders of Core stand in one order: a type knows only those of its own folder and of folders before it.</summary>
public class FolderOrderTests
{
    private static readonly string[] Order =
    [
        "Basics",
        "Quality",
        "Units",
        "Scaling",
        "Limits",
        "Recording",
        "History",
        "Alarms",
        "Notices",
        "Properties",
        "Formulas",
        "Bindings",
        "Hierarchy",
        "NamingRules",
        "Templates",
        "Controllers",
        "Modbus",
        "Mqtt",
        "Sparkplug",
        "OpcUa",
        "Memory",
        "Protocols",
        "Plant",
        "Rules",
        "Edits",
        "Commands",
        "Planning",
        "Engine",
        "Diagnosis",
        "Pictures",
        "Proposals",
        "Exchange",
        "Review",
    ];

    private const string Core = "Fralto.Core.";

    [Fact]
    public void A_type_knows_only_what_stands_before_it()
    {
        var types = new ArchLoader()
            .LoadAssembly(typeof(PlantModel).Assembly)
            .Build()
            .Types.Where(t => FolderOf(t.FullName) is not null)
            .ToArray();
        types.Length.ShouldBeGreaterThan(250);
        types.Select(t => FolderOf(t.FullName)).Distinct().Except(Order).ShouldBeEmpty("a folder has no place in the order");
        var wrong =
            from type in types
            from dependency in type.Dependencies
            let own = Array.IndexOf(Order, FolderOf(type.FullName))
            let other = FolderOf(dependency.Target.FullName)
            where other is not null && Array.IndexOf(Order, other) > own
            select $"{type.FullName} knows {dependency.Target.FullName}";
        wrong.Distinct().ShouldBeEmpty();
    }

    /// <summary>The folder of a type of Core, by its namespace; null for any other type.</summary>
    private static string? FolderOf(string name)
    {
        if (!name.StartsWith(Core, StringComparison.Ordinal))
            return null;
        var rest = name[Core.Length..];
        var dot = rest.IndexOf('.', StringComparison.Ordinal);
        return dot < 0 ? null : rest[..dot];
    }
}
