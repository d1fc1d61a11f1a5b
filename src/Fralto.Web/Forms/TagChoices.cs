using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Scaling;

namespace Fralto.Web.Forms;

/// <summary>What can be chosen in forms about tags.</summary>
public static class TagChoices
{
    /// <summary>Tables of registers.</summary>
    public static IEnumerable<(string Value, string Text)> Areas =>
        [
            (nameof(RegisterArea.HoldingRegister), "holding (4xxxx)"),
            (nameof(RegisterArea.InputRegister), "input (3xxxx)"),
            (nameof(RegisterArea.Coil), "coil (0xxxx)"),
            (nameof(RegisterArea.DiscreteInput), "discrete (1xxxx)"),
        ];

    /// <summary>Raw types that a protocol knows.</summary>
    /// <param name="rules">The protocol.</param>
    public static IEnumerable<(string Value, string Text)> TypesOf(ProtocolRules rules) =>
        new[]
        {
            RawType.Bool,
            RawType.Int8,
            RawType.UInt8,
            RawType.Int16,
            RawType.UInt16,
            RawType.Int32,
            RawType.UInt32,
            RawType.Int64,
            RawType.UInt64,
            RawType.Float32,
            RawType.Float64,
            RawType.Bcd16,
            RawType.Bcd32,
            RawType.Text,
        }
            .Where(t => rules.HasRegisters || t is not (RawType.Bcd16 or RawType.Bcd32))
            .Select(t => (t.ToString(), t.Word()));

    /// <summary>Orders of words and bytes.</summary>
    public static IEnumerable<(string Value, string Text)> Orders =>
        Enum.GetValues<WordOrder>()
            .Select(o =>
                (o.ToString(), $"{o.Letters()}, {(o.IsLowFirst() ? "low" : "high")} word first{(o.IsSwapped() ? ", bytes swapped" : "")}")
            );

    /// <summary>The update classes of the controller, the first its own interval.</summary>
    /// <param name="controller">The controller.</param>
    public static IEnumerable<(string Value, string Text)> ClassesOf(Controller controller) =>
        [("", "as the controller"), .. controller.UpdateClasses.Select(c => (c.Name, UpdateClassText.Of(c)))];
}
