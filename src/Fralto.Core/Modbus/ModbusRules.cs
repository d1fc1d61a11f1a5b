using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Scaling;

namespace Fralto.Core.Modbus;

/// <summary>What is known of Modbus TCP (Modbus Application Protocol V1.1b3).</summary>
public sealed class ModbusRules : ProtocolRules
{
    private static readonly ModbusConnection Usual = new("", ModbusConnection.AssignedPort, 1);

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Modbus;

    /// <inheritdoc/>
    public override string Words => "Modbus TCP";

    /// <inheritdoc/>
    public override bool HasRegisters => true;

    /// <inheritdoc/>
    public override string AddressHint => "holding 120, input 4.3 for a bit, unit 2 coil 7";

    /// <inheritdoc/>
    public override ImmutableArray<ConnectionField> Fields { get; } =
    [
        .. Place($"Modbus listens on {ModbusConnection.AssignedPort}"),
        ConnectionField.Whole("UnitId", "Unit id", e => e.UnitId, (e, n) => e with { UnitId = n }) with
        {
            Hint = "0 to 255; tags may name another",
        },
        ConnectionField.Whole("LargestRead", "Registers a request", e => e.LargestRead, (e, n) => e with { LargestRead = n }) with
        {
            Otherwise = "125",
            Hint = "some devices answer fewer than 125",
            IsFurther = true,
        },
        ConnectionField.Whole("Gap", "Gap worth reading over", e => e.Gap, (e, n) => e with { Gap = n }) with
        {
            Otherwise = "16",
            Hint = "unused registers, 0 to 120",
            IsFurther = true,
        },
        ConnectionField.Whole("Retries", "Asked again", e => e.Retries, (e, n) => e with { Retries = n }) with
        {
            Otherwise = "1",
            Hint = "times, before its tags go Bad",
            IsFurther = true,
        },
    ];

    /// <inheritdoc/>
    public override Connection New => Usual;

    /// <inheritdoc/>
    public override Connection Read(ConnectionEntry entry) =>
        new ModbusConnection(entry.Host ?? "", entry.Port ?? Usual.Port, entry.UnitId ?? Usual.UnitId)
        {
            LargestRead = entry.LargestRead ?? Usual.LargestRead,
            Gap = entry.Gap ?? Usual.Gap,
            Retries = entry.Retries ?? Usual.Retries,
        };

    /// <inheritdoc/>
    public override ConnectionEntry Write(Connection connection, ConnectionEntry entry)
    {
        var its = (ModbusConnection)connection;
        return entry with
        {
            Protocol = Protocol,
            Host = its.Host,
            Port = its.Port,
            UnitId = its.UnitId,
            LargestRead = Unless(its.LargestRead, Usual.LargestRead),
            Gap = Unless(its.Gap, Usual.Gap),
            Retries = Unless(its.Retries, Usual.Retries),
        };
    }

    /// <inheritdoc/>
    public override IEnumerable<string> Details(Connection connection)
    {
        var its = (ModbusConnection)connection;
        yield return $"at most {its.LargestRead} registers a request, gaps of {its.Gap} read over, {its.Retries} retries";
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Connection connection)
    {
        var its = (ModbusConnection)connection;
        if (HostProblem(its.Host) is { } host)
            yield return new("Host", host);
        if (PortProblem(its.Port, $"Modbus devices listen on {ModbusConnection.AssignedPort}.") is { } port)
            yield return new("Port", port);
        if (its.UnitId is < 0 or > 255)
            yield return new("UnitId", $"A unit id is 0 to 255, not {its.UnitId}.");
        if (its.LargestRead is < 1 or > ModbusLimits.ReadRegisters)
            yield return new("LargestRead", $"One request reads 1 to {ModbusLimits.ReadRegisters} registers, not {its.LargestRead}.");
        if (its.Gap is < 0 or > ModbusConnection.WidestGap)
            yield return new("Gap", $"A gap is 0 to {ModbusConnection.WidestGap} registers, not {its.Gap}.");
        if (its.Retries is < 0 or > ModbusConnection.MostRetries)
            yield return new("Retries", $"A request is asked again 0 to {ModbusConnection.MostRetries} times, not {its.Retries}.");
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems(Tag tag)
    {
        var at = (ModbusAddress)tag.Address;
        var (places, most) = at.IsBit ? ("bits", ModbusLimits.ReadBits) : ("registers", ModbusLimits.ReadRegisters);
        if (at.Offset is < 0 or > ModbusAddress.Highest)
            yield return new(
                "Address",
                $"An address on the wire is 0 to {ModbusAddress.Highest}, not {at.Offset}. Manuals count from 1: holding register "
                    + $"40001 is holding 0."
            );
        else if (at.Offset + tag.Places - 1 > ModbusAddress.Highest)
            yield return new("Address", $"{tag.TypeText} fills {tag.Places} {places}; the last would lie beyond {ModbusAddress.Highest}.");
        if (tag.Places > most)
            yield return new("Count", $"{tag.TypeText} fills {tag.Places} {places}; one request reads {most}. Declare it as several tags.");
        if (at.IsBit && tag.Type != RawType.Bool)
            yield return new("Type", "Coils and discrete inputs are single bits: their type is bool.");
        if (at.UnitId is < 0 or > 255)
            yield return new("Address", $"A unit id is 0 to 255, not {at.UnitId}.");
        if (at.Bit is not { } bit)
            yield break;
        if (at.IsBit)
            yield return new("Address", $"{at} is a single bit already; a bit is taken of a register.");
        else if (bit is < 0 or > 15)
            yield return new("Address", $"The bit of a register is 0 to 15, not {bit}.");
        else if (tag.Type != RawType.Bool || tag.Count != 1)
            yield return new("Type", $"{at} is one bit: its type is bool.");
    }

    private protected override TagAddress? Address(string text, out string? problem) => ModbusAddress.Parse(text, out problem);
}
