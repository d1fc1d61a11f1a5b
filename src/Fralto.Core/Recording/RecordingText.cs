using System.Globalization;

namespace Fralto.Core.Recording;

/// <summary>What is said of recording, in words and back.</summary>
public static class RecordingText
{
    /// <summary>What a layer says.</summary>
    public static string Of(RecordingPatch says)
    {
        static string? Number(double? number, string before, string after) =>
            number is { } n ? string.Create(CultureInfo.InvariantCulture, $"{before}{n}{after}") : null;
        return string.Join(
            ", ",
            new[]
            {
                says.Off switch
                {
                    true => "off",
                    false => "on",
                    null => null,
                },
                Number(says.Deadband, "deadband ", ""),
                Number(says.DeadbandPercent, "deadband ", " %"),
                says.OnChange switch
                {
                    true => "on change",
                    false => "at the interval alone",
                    null => null,
                },
                Number(says.Every, "every ", " s"),
                says.While is { } condition ? $"while {condition}" : null,
                Number(says.KeepDays, "kept ", " days"),
                Number(says.KeepCount, "at most ", " values"),
                Number(says.KeepSummedDays, "summed up kept ", " days"),
            }.Where(t => t is not null)
        );
    }

    /// <summary>A deadband as it is written: 0.5 in the unit, or 0.5 % of the range; empty where nothing is said.</summary>
    public static string Deadband(RecordingPatch? says) =>
        says?.Deadband?.ToString("R", CultureInfo.InvariantCulture)
        ?? (says?.DeadbandPercent is { } percent ? string.Create(CultureInfo.InvariantCulture, $"{percent} %") : "");
}
