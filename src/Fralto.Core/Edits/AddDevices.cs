using Fralto.Core.Basics;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Adds a series of devices of one kind to a controller, and generates their tags.</summary>
/// <param name="ControllerId">A Modbus controller.</param>
/// <param name="LayoutId">What the devices expose.</param>
/// <param name="Name">Name of each, with {n} where the number goes.</param>
/// <param name="First">The first number.</param>
/// <param name="HowMany">How many.</param>
/// <param name="Base">Address at which the registers of the first begin.</param>
/// <param name="Stride">Registers from one device to the next.</param>
/// <param name="BitBase">Address at which the coils and discrete inputs of the first begin.</param>
/// <param name="BitStride">Bits from one device to the next.</param>
/// <param name="UnitId">Unit id of the first; null for the controller's own.</param>
/// <param name="Digits">Digits of the number, filled up with zeros.</param>
/// <param name="UnitStride">Unit ids from one device to the next; 0 when all are behind the same.</param>
public sealed record AddDevices(
    long ControllerId,
    long LayoutId,
    string Name,
    int First,
    int HowMany,
    int Base,
    int Stride,
    int BitBase = 0,
    int BitStride = 0,
    int? UnitId = null,
    int UnitStride = 0,
    int Digits = 1
) : Edit
{
    /// <summary>The most devices of one series.</summary>
    public const int Most = 500;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller))
            return Gone("The controller");
        if (!model.Layouts.TryGetValue(LayoutId, out var layout))
            return Gone("The layout");
        var problems = new List<Problem>();
        if (!controller.Protocol.Rules().HasRegisters)
            problems.Add(
                new(nameof(ControllerId), $"{controller.Name} speaks {controller.Protocol.Words()}; layouts describe blocks of registers.")
            );
        if (HowMany is < 1 or > Most)
            problems.Add(new(nameof(HowMany), $"1 to {Most} devices at a time, not {HowMany}."));
        else if (HowMany > 1 && !Name.Contains(SeriesPattern.Number, StringComparison.Ordinal))
            problems.Add(
                new(
                    nameof(Name),
                    $"Put {SeriesPattern.Number} where the number goes, as in KLN{SeriesPattern.Number}: each of the {HowMany} needs "
                        + $"its own name."
                )
            );
        if (First < 0)
            problems.Add(new(nameof(First), "Numbers are counted from 0 or above."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var devices = Enumerable
            .Range(0, HowMany)
            .Select(i => new Device(
                model.NextId + i,
                ControllerId,
                LayoutId,
                Name.Replace(
                    SeriesPattern.Number,
                    (First + i).ToString($"D{Math.Clamp(Digits, 1, 6)}", System.Globalization.CultureInfo.InvariantCulture),
                    StringComparison.Ordinal
                ),
                Base + i * Stride,
                BitBase + i * BitStride,
                UnitId + i * UnitStride
            ))
            .ToArray();
        var tags = new DeviceTags(model, model.NextId + HowMany, []);
        foreach (var device in devices)
        {
            if (Naming.NameProblem(device.Name) is { } wrong)
                problems.Add(new(nameof(Name), wrong));
            if (
                model.Devices.Values.Any(d =>
                    d.ControllerId == ControllerId && string.Equals(d.Name, device.Name, StringComparison.OrdinalIgnoreCase)
                )
            )
                problems.Add(new(nameof(Name), $"{controller.Name} already has a device named {device.Name}."));
            tags.Follow(device, layout);
        }
        problems.AddRange(tags.Problems);
        return problems.Count > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed(
                $"Add {Count(devices.Length, "device")} {layout.Name} to {controller.Name}: {tags.Added} tags",
                [.. devices.Select(Added), .. tags.Changes]
            );
    }
}
