using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Runtime.Views;

/// <summary>The part of the matrix that one template has: its properties across, its instances down.</summary>
/// <param name="Template">The template.</param>
/// <param name="Columns">Its properties.</param>
/// <param name="Rows">The instances shown, grouped by the place above them.</param>
public sealed record MatrixSection(
    Template Template,
    ImmutableArray<ResolvedProperty> Columns,
    IReadOnlyList<IGrouping<long, Equipment>> Rows
);
