using Fralto.Core.Hierarchy;

namespace Fralto.Runtime.Views;

/// <summary>The alarms of one place on the board, in the order of the process.</summary>
/// <param name="Place">The place; null for what stands below none.</param>
/// <param name="Name">Its name, with those above it.</param>
/// <param name="Rows">Its alarms.</param>
/// <param name="Quiet">Names of what stands there and has no alarm.</param>
public sealed record AlarmBoardPlace(Equipment? Place, string Name, IReadOnlyList<AlarmBoardRow> Rows, IReadOnlyList<string> Quiet);
