namespace Fralto.Core.Recording;

/// <summary>What a layer says about recording a property; a field that is null says nothing, and the layer before is heard.</summary>
public sealed record RecordingPatch
{
    /// <summary>It says nothing.</summary>
    public static readonly RecordingPatch Empty = new();

    /// <summary>True records nothing; false records, where a layer before had turned it off.</summary>
    public bool? Off { get; init; }

    /// <summary>How far a number has to move before it is recorded, in the property's unit; 0 records every change.</summary>
    public double? Deadband { get; init; }

    /// <summary>The same in percent of the range.</summary>
    public double? DeadbandPercent { get; init; }

    /// <summary>Seconds after which a value is recorded even when it stays; null for never.</summary>
    public double? Every { get; init; }

    /// <summary>False records at the interval alone, and no change between.</summary>
    public bool? OnChange { get; init; }

    /// <summary>Code of a property of the same instance: recorded only while it is true, or not zero. Code=3 is while it is 3.</summary>
    public string? While { get; init; }

    /// <summary>Days that values are kept as they came.</summary>
    public double? KeepDays { get; init; }

    /// <summary>How many values are kept as they came, at most.</summary>
    public long? KeepCount { get; init; }

    /// <summary>Days that what is summed up by minute, hour and day is kept.</summary>
    public double? KeepSummedDays { get; init; }

    /// <summary>This patch with what a later layer says laid over it. A deadband in one measure takes the place of one in the
    /// other.</summary>
    public RecordingPatch With(RecordingPatch later)
    {
        var says = later.Deadband is not null || later.DeadbandPercent is not null;
        return new()
        {
            Off = later.Off ?? Off,
            Deadband = says ? later.Deadband : Deadband,
            DeadbandPercent = says ? later.DeadbandPercent : DeadbandPercent,
            Every = later.Every ?? Every,
            OnChange = later.OnChange ?? OnChange,
            While = later.While ?? While,
            KeepDays = later.KeepDays ?? KeepDays,
            KeepCount = later.KeepCount ?? KeepCount,
            KeepSummedDays = later.KeepSummedDays ?? KeepSummedDays,
        };
    }
}
