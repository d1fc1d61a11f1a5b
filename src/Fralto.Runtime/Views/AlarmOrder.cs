namespace Fralto.Runtime.Views;

/// <summary>How alarms stand on the board.</summary>
public enum AlarmOrder
{
    /// <summary>By place, in the order of the process.</summary>
    Process,

    /// <summary>Those raised last first.</summary>
    Newest,

    /// <summary>Those not acknowledged first, of them the highest priority, of them what is due first.</summary>
    Urgent,
}
