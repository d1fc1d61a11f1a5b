using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Protocols;

namespace Fralto.Core.Exchange;

/// <summary>Controllers as a table, one in each row, with the fields of all protocols as columns. Passwords are neither given out nor taken
/// in.</summary>
internal sealed class ControllerTable : RowTable
{
    private static readonly ImmutableArray<ConnectionField> Fields =
    [
        .. KnownProtocols.All.SelectMany(p => p.Fields).Where(f => f.Kind != ConnectionFieldKind.Password).DistinctBy(f => f.Name),
    ];

    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    ["controller", "protocol", .. Fields.Select(f => Column(f.Name)), "updateIntervalMs", "updateClasses"];

    /// <inheritdoc/>
    protected override int Keys => 1;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model.Controllers.Values.OrderBy(c => c.Name, StringComparer.OrdinalIgnoreCase).Select(RowOf);

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (cells["controller"].Length == 0)
            cells.Refuse("controller", "Give the name of the controller.");
        return Known(model, cells) is { } known ? RowOf(known) : null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var known = Known(model, cells);
        var rules = cells.Choice("protocol", known?.Protocol ?? Protocol.Modbus).Rules();
        var (entry, problems) = (new ConnectionEntry(), new List<Problem>());
        var usual = rules.Write(rules.New, new ConnectionEntry());
        foreach (var field in rules.Fields.Where(f => f.Kind != ConnectionFieldKind.Password))
            entry = field.Read(
                entry,
                cells[Column(field.Name)] is { Length: > 0 } said ? said
                    : known is null ? field.Show(usual) ?? ""
                    : "",
                problems
            );
        foreach (var field in Fields.Where(f => rules.Fields.All(r => r.Name != f.Name) && cells[Column(f.Name)].Length > 0))
            cells.Refuse(Column(field.Name), $"{rules.Words} has no {field.Label}; leave the cell empty.");
        foreach (var problem in problems)
            cells.Refuse(ColumnOf(problem.Field), problem.Message);
        var interval = cells.Double("updateIntervalMs") ?? (rules.Interval is null || rules.IsPushed ? 0 : UsualIntervalMs);
        var classes = UpdateClassText.Read(cells["updateClasses"], out var wrong);
        if (wrong is not null)
            cells.Refuse("updateClasses", wrong);
        return problems.Count > 0
            ? null
            : new SaveController(known?.Id, known?.Name ?? cells["controller"], rules.Read(entry), interval, classes);
    }

    private const double UsualIntervalMs = 1000;

    private static Controller? Known(PlantModel model, RowCells cells) =>
        model.Controllers.Values.FirstOrDefault(c => c.Name.Equals(cells["controller"], StringComparison.OrdinalIgnoreCase));

    private static string[] RowOf(Controller controller)
    {
        var entry = controller.Connection.Written(new ConnectionEntry());
        var its = controller.Protocol.Rules().Fields.Select(f => f.Name).ToHashSet();
        return
        [
            controller.Name,
            controller.Protocol.ToString(),
            .. Fields.Select(f => its.Contains(f.Name) ? f.Show(entry) ?? "" : ""),
            controller.UpdateInterval.TotalMilliseconds.ToString("R", CultureInfo.InvariantCulture),
            UpdateClassText.Of(controller.UpdateClasses, "; "),
        ];
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) => field == "Name" ? "controller" : base.ColumnOf(field);

    private static string Column(string field) => char.ToLowerInvariant(field[0]) + field[1..];
}
