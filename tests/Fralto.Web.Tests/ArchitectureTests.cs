using System.Reflection;
using Fralto.Core.Plant;
using Fralto.Links;
using Fralto.StandIns.Maltings;
using Fralto.Store;
using NetArchTest.Rules;

namespace Fralto.Web.Tests;

/// <summary>Core knows nobody; Store, Links and StandIns know Core; Runtime knows Core, Store and Links, and no web; Web knows
/// all.</summary>
public sealed class ArchitectureTests
{
    private static readonly Assembly Core = typeof(PlantModel).Assembly;

    [Theory]
    [InlineData("Fralto.Core", "")]
    [InlineData("Fralto.Store", "Fralto.Core")]
    [InlineData("Fralto.Links", "Fralto.Core")]
    [InlineData("Fralto.StandIns", "Fralto.Core")]
    [InlineData("Fralto.Runtime", "Fralto.Core Fralto.Links Fralto.Store")]
    [InlineData("Fralto.Web", "Fralto.Core Fralto.Links Fralto.Runtime Fralto.StandIns Fralto.Store")]
    public void A_project_knows_only_those_it_may(string name, string may)
    {
        Assembly[] all =
        [
            Core,
            typeof(PlantStore).Assembly,
            typeof(ILink).Assembly,
            typeof(StandInPlant).Assembly,
            typeof(PlantRuntime).Assembly,
            typeof(FraltoOptions).Assembly,
        ];
        all.Single(a => a.GetName().Name == name)
            .GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(n => n.StartsWith("Fralto.", StringComparison.Ordinal))
            .Order()
            .ShouldBe(may.Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    [Fact]
    public void Core_does_no_input_or_output_and_has_no_clock()
    {
        string[] forbidden =
        [
            "System.IO.File",
            "System.IO.Directory",
            "System.IO.Stream",
            "System.Net",
            "System.Console",
            "System.Threading.Thread",
            "System.Threading.Timer",
            "System.Diagnostics.Process",
            "Microsoft",
            "Dapper",
        ];
        Types.InAssembly(Core).ShouldNot().HaveDependencyOnAny(forbidden).GetResult().FailingTypeNames.ShouldBeNull();
        Core.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .ShouldAllBe(n => n.StartsWith("System", StringComparison.Ordinal) && !n.StartsWith("System.Net", StringComparison.Ordinal));
        Sources("src/Fralto.Core")
            .ShouldAllBe(s =>
                !s.Text.Contains("DateTime.Now", StringComparison.Ordinal)
                && !s.Text.Contains("UtcNow", StringComparison.Ordinal)
                && !s.Text.Contains("Stopwatch", StringComparison.Ordinal)
            );
    }

    [Fact]
    public void The_runtime_knows_no_web() =>
        typeof(PlantRuntime)
            .Assembly.GetReferencedAssemblies()
            .Select(a => a.Name!)
            .ShouldAllBe(n => !n.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal));

    [Fact]
    public void Sql_lives_in_the_store_alone() =>
        Sources("src")
            .Where(s => !s.Path.Contains("Fralto.Store", StringComparison.Ordinal))
            .ShouldAllBe(s =>
                !s.Text.Contains("INSERT INTO", StringComparison.Ordinal) && !s.Text.Contains("SELECT ", StringComparison.Ordinal)
            );

    [Fact]
    public void A_file_holds_the_public_type_it_is_named_for() =>
        Sources("src")
            .Where(s => !s.Path.EndsWith(".cshtml.cs", StringComparison.Ordinal))
            .Where(s =>
                System.Text.RegularExpressions.Regex.Count(
                    s.Text,
                    @"^public [a-z ]*(class|record|struct|enum|interface) ",
                    System.Text.RegularExpressions.RegexOptions.Multiline
                ) > 1
            )
            .Select(s => s.Path)
            .ShouldBeEmpty();

    [Fact]
    public void No_page_holds_a_script_or_a_style_of_its_own()
    {
        foreach (var (path, text) in Sources("src/Fralto.Web", "*.cshtml"))
        {
            text.ShouldNotContain("style=\"", customMessage: path);
            text.ShouldNotContain("<style", customMessage: path);
            System.Text.RegularExpressions.Regex.IsMatch(text, "<script(?! src=)").ShouldBeFalse(path);
            System.Text.RegularExpressions.Regex.IsMatch(text, " on[a-z]+=\"").ShouldBeFalse(path);
        }
    }

    internal static string Root()
    {
        var at = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(at!.FullName, "Fralto.slnx")))
            at = at.Parent;
        return at.FullName;
    }

    private static IEnumerable<(string Path, string Text)> Sources(string folder, string pattern = "*.cs") =>
        Directory
            .EnumerateFiles(Path.Combine(Root(), folder), pattern, SearchOption.AllDirectories)
            .Where(f =>
                !f.Contains("/obj/", StringComparison.Ordinal)
                && !f.Contains("/bin/", StringComparison.Ordinal)
                && !f.Contains("node_modules", StringComparison.Ordinal)
            )
            .Select(f => (f, File.ReadAllText(f)));
}
