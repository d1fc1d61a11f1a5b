namespace Fralto.Core.Notices;

/// <summary>Why somebody is told of an alarm.</summary>
public enum NoticeReason
{
    /// <summary>It was raised.</summary>
    Raised,

    /// <summary>Nobody has acknowledged it since.</summary>
    Repeated,

    /// <summary>Nobody of another list has acknowledged it.</summary>
    Escalated,

    /// <summary>Its condition has gone.</summary>
    Returned,
}
