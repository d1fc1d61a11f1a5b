namespace Fralto.Runtime;

/// <summary>What an actor may do; looking needs no right.</summary>
[Flags]
public enum ActorRights
{
    /// <summary>Looks.</summary>
    None = 0,

    /// <summary>Edits the model.</summary>
    Edit = 1,

    /// <summary>Gives commands to the plant, and writes tags of memory.</summary>
    Command = 2,

    /// <summary>Acknowledges alarms.</summary>
    Acknowledge = 4,

    /// <summary>Puts a model to work.</summary>
    Release = 8,

    /// <summary>Everything.</summary>
    All = Edit | Command | Acknowledge | Release,
}
