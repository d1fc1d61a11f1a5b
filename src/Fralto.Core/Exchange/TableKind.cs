namespace Fralto.Core.Exchange;

/// <summary>What a table of a bulk file lists, in the order in which they are taken in one after the other: each may name what stands in
/// those before.</summary>
public enum TableKind
{
    /// <summary>A state of a state list in each row.</summary>
    States,

    /// <summary>A shift of the plant's calendar in each row, with the time zone.</summary>
    Calendar,

    /// <summary>A rule by which alarms are shelved in each row.</summary>
    ShelvingRules,

    /// <summary>What an alarm sets off in each row.</summary>
    Responses,

    /// <summary>A scale of the library in each row.</summary>
    Scales,

    /// <summary>What a template says about a property in each row.</summary>
    Properties,

    /// <summary>A node of the plant in each row.</summary>
    Equipment,

    /// <summary>Who is told of alarms, a list in each row.</summary>
    NoticeLists,

    /// <summary>A label of a place or of a template in each row.</summary>
    Labels,

    /// <summary>An instance in each row, a fixed property in each column.</summary>
    Values,

    /// <summary>What an instance says itself of a property in each row: limits, ranges, scales.</summary>
    Settings,

    /// <summary>All that a template or instance says of a limit in each row.</summary>
    Limits,

    /// <summary>A controller in each row.</summary>
    Controllers,

    /// <summary>A property of an instance with the tag that feeds it in each row.</summary>
    Bindings,
}
