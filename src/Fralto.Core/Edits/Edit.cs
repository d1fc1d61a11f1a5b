using Fralto.Core.Basics;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>One thing a person does to the working model. Applied whole or not at all.</summary>
public abstract record Edit
{
    /// <summary>Validates against a model and says what would change; the model itself stays as it is.</summary>
    public abstract EditOutcome On(PlantModel model);

    /// <summary>Collects the problem of a field when there is one.</summary>
    private protected static void Check(List<Problem> problems, string field, string? message)
    {
        if (message is not null)
            problems.Add(new Problem(field, message));
    }

    private protected static EditOutcome Gone(string what) =>
        EditOutcome.Refused("", $"{what} no longer exists; somebody has taken it out. Reload the page.");

    private protected static ModelChange Added(object after) => new(null, after);

    private protected static ModelChange Removed(object before) => new(before, null);

    private protected static string Count(int count, string one, string? many = null) =>
        count == 1 ? $"1 {one}" : $"{count} {many ?? one + "s"}";
}
