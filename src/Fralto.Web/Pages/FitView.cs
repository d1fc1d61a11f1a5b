using System.Collections.Immutable;
using Fralto.Core.Diagnosis;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Web.Pages;

/// <summary>What the raw values of a property look like.</summary>
/// <param name="TemplateId">The template it is looked at on.</param>
/// <param name="Property">The property.</param>
/// <param name="Verdicts">What is said; empty while too little has been seen.</param>
/// <param name="Since">How long it has been watched.</param>
/// <param name="Tags">How many tags.</param>
/// <param name="Named">The scale of the library it uses; null when it uses none.</param>
/// <param name="Reach">How many instances use that scale.</param>
public sealed record FitView(
    long TemplateId,
    ResolvedProperty Property,
    ImmutableArray<FitVerdict> Verdicts,
    TimeSpan Since,
    int Tags,
    LibraryScale? Named,
    int Reach
);
