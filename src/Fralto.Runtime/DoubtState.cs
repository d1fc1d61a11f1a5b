using Fralto.Core.Plant;
using Fralto.Core.Proposals;

namespace Fralto.Runtime;

/// <summary>What is known of bindings that look wrong.</summary>
/// <param name="Model">The model that was looked through; null before the first.</param>
/// <param name="Doubts">What looks wrong, by instance and property, the gravest first.</param>
/// <param name="At">When it was looked at.</param>
/// <param name="IsLooking">True while it is being looked at anew.</param>
public sealed record DoubtState(
    PlantModel? Model,
    IReadOnlyDictionary<(long EquipmentId, long PropertyId), BindingDoubt[]> Doubts,
    DateTimeOffset At,
    bool IsLooking
)
{
    public static readonly DoubtState None = new(null, new Dictionary<(long, long), BindingDoubt[]>(), default, false);
}
