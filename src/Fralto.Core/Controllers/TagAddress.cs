namespace Fralto.Core.Controllers;

/// <summary>Where a tag is in its controller: one kind for each protocol. Written in one line; the same line reads back.</summary>
public abstract record TagAddress
{
    /// <summary>Longest address, in characters.</summary>
    public const int Longest = 500;

    /// <summary>The place alone, without what is said beside it: two addresses of one place are the same value.</summary>
    public virtual string Place => ToString();

    /// <summary>Parts an address from what is said beside it.</summary>
    private protected const string Beside = " | ";

    /// <summary>Reads an address as a person writes it.</summary>
    /// <param name="protocol">The protocol of its controller.</param>
    /// <param name="text">For example holding 120, silo/7#/level, or group/node/device#metric.</param>
    /// <param name="problem">What is wrong and what would do; null when it is an address.</param>
    public static TagAddress? Parse(Protocol protocol, string text, out string? problem)
    {
        problem = text.Length > Longest ? $"The address has {text.Length} characters; {Longest} is the most." : null;
        if (problem is not null) return null;
        return protocol switch
        {
            Protocol.Modbus => ModbusAddress.Parse(text, out problem),
            Protocol.Mqtt => TopicAddress.Parse(text, out problem),
            Protocol.Sparkplug => MetricAddress.Parse(text, out problem),
            _ => MemoryAddress.Parse(text, out problem),
        };
    }
}
