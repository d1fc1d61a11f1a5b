using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>A kind of equipment of the generated plants.</summary>
/// <param name="Code">Code of its template.</param>
/// <param name="Name">Name of its template.</param>
/// <param name="Letters">What tags and codes call it, with a number after it.</param>
/// <param name="PerArea">Instances in each area.</param>
/// <param name="Signals">What its instances have.</param>
internal sealed record Kind(string Code, string Name, string Letters, int PerArea, Signal[] Signals);

/// <summary>A property of a kind, with what plants call it.</summary>
/// <param name="Code">Code of the property.</param>
/// <param name="Name">Its name.</param>
/// <param name="Isa">Instrument letters and the loop's last digits.</param>
/// <param name="Words">English words, parted by blanks.</param>
/// <param name="German">German abbreviation.</param>
/// <param name="GermanText">German description.</param>
/// <param name="Spanish">Spanish abbreviation.</param>
/// <param name="SpanishText">Spanish description.</param>
/// <param name="Type">What the value is.</param>
/// <param name="Raw">The tag's raw type.</param>
/// <param name="Unit">Unit; null for none.</param>
/// <param name="High">High end of the range.</param>
/// <param name="Command">True for one that is written.</param>
internal sealed record Signal(
    string Code,
    string Name,
    string Isa,
    string Words,
    string German,
    string GermanText,
    string Spanish,
    string SpanishText,
    PropertyType Type,
    RawType Raw,
    string? Unit,
    double High,
    bool Command = false
);
