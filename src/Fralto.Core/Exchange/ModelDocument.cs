using System.Text.Json.Serialization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Notices;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>A whole model as a person can write it: everything by code and path, nothing by id. See docs/model-format.md.</summary>
public sealed record ModelDocument
{
    /// <summary>What <see cref="Format"/> says.</summary>
    public const string FormatName = "fralto-model";

    /// <summary>The version this program writes and reads.</summary>
    public const int CurrentVersion = 1;

    /// <summary>Always <see cref="FormatName"/>.</summary>
    [JsonRequired]
    public string Format { get; init; } = FormatName;

    /// <summary>The version of the format.</summary>
    [JsonRequired]
    public int Version { get; init; } = CurrentVersion;

    /// <summary>State lists.</summary>
    public IReadOnlyList<StateListEntry> StateLists { get; init; } = [];

    /// <summary>What older files call <see cref="StateLists"/>; it is only read.</summary>
    public IReadOnlyList<StateListEntry>? StateSets
    {
        get => null;
        init => StateLists = value ?? [];
    }

    /// <summary>The customer's own units.</summary>
    public IReadOnlyList<UnitEntry> Units { get; init; } = [];

    /// <summary>Hours, days and shifts of the plant; null while nobody has said.</summary>
    public CalendarEntry? Calendar { get; init; }

    /// <summary>How codes are written, by level or template.</summary>
    public IReadOnlyList<NamingConventionEntry>? NamingConventions { get; init; }

    /// <summary>The rules by which alarms are shelved; null while nobody has said.</summary>
    public IReadOnlyList<ShelvingRuleEntry>? ShelvingRules { get; init; }

    /// <summary>What alarms set off; null for nothing.</summary>
    public IReadOnlyList<ResponseEntry>? Responses { get; init; }

    /// <summary>Who is told of alarms; null for nobody.</summary>
    public IReadOnlyList<NoticeListEntry>? NoticeLists { get; init; }

    /// <summary>The server that takes the mails; null for none. Its password is not part of the model.</summary>
    public MailServerEntry? MailServer { get; init; }

    /// <summary>The languages of messages; null for one only.</summary>
    public IReadOnlyList<string>? Languages { get; init; }

    /// <summary>How many days the log of alarms is kept; null for as long as usual.</summary>
    public int? AlarmLogDays { get; init; }

    /// <summary>Who is told of alarms.</summary>
    public sealed record NoticeListEntry([property: JsonRequired] string Name, [property: JsonRequired] IReadOnlyList<string> Addresses)
    {
        /// <summary>The place the alarms are below.</summary>
        public string? Place { get; init; }

        /// <summary>Only of what has this label.</summary>
        public string? Label { get; init; }

        /// <summary>Only of these priorities.</summary>
        public IReadOnlyList<int>? Priorities { get; init; }

        /// <summary>Days on which its hours begin.</summary>
        public IReadOnlyList<DayOfWeek>? Days { get; init; }

        /// <summary>When its hours begin, as 06:00.</summary>
        public string? From { get; init; }

        /// <summary>When its hours end.</summary>
        public string? Until { get; init; }

        /// <summary>Minutes after which it is told again.</summary>
        public double? RepeatMinutes { get; init; }

        /// <summary>How often at most.</summary>
        public int? Repeats { get; init; }

        /// <summary>Minutes after which another list is told.</summary>
        public double? EscalateMinutes { get; init; }

        /// <summary>That list.</summary>
        public string? EscalateTo { get; init; }

        /// <summary>Whether it is told of the return.</summary>
        public bool? TellsReturn { get; init; }

        /// <summary>Whether it is told only of what is handed on.</summary>
        public bool? OnlyEscalated { get; init; }

        /// <summary>The language of its messages.</summary>
        public string? Language { get; init; }
    }

    /// <summary>The server that takes the mails.</summary>
    public sealed record MailServerEntry(
        [property: JsonRequired] string Host,
        [property: JsonRequired] int Port,
        [property: JsonRequired] MailSecurity Security,
        [property: JsonRequired] string From,
        string? User = null
    );

    /// <summary>What an alarm sets off.</summary>
    public sealed record ResponseEntry([property: JsonRequired] string Name, [property: JsonRequired] ResponseKind Kind)
    {
        /// <summary>The address that is called, or the path of the command.</summary>
        [JsonRequired]
        public string Target { get; init; } = "";

        /// <summary>What is sent or given.</summary>
        public string? Text { get; init; }

        /// <summary>What is sent or given when the condition has gone.</summary>
        public string? ClearText { get; init; }

        /// <summary>Priorities that set it off.</summary>
        public IReadOnlyList<int>? Priorities { get; init; }

        /// <summary>Only below what has this label.</summary>
        public string? Label { get; init; }
    }

    /// <summary>A rule by which alarms are shelved.</summary>
    /// <param name="Name">Its name.</param>
    /// <param name="LongestMinutes">The longest time.</param>
    /// <param name="PresetMinutes">The times that are offered.</param>
    public sealed record ShelvingRuleEntry(
        [property: JsonRequired] string Name,
        [property: JsonRequired] double LongestMinutes,
        IReadOnlyList<double>? PresetMinutes = null
    );

    /// <summary>The library of named scales.</summary>
    public IReadOnlyList<LibraryScaleEntry> Scales { get; init; } = [];

    /// <summary>How codes are written at a level or of a template's instances.</summary>
    /// <param name="Pattern">The pattern: # is a digit, ? a letter, * anything.</param>
    /// <param name="Level">The level; null where a template is said.</param>
    /// <param name="Template">Code of the template; null where a level is said.</param>
    public sealed record NamingConventionEntry(
        [property: JsonRequired] string Pattern,
        EquipmentLevel? Level = null,
        string? Template = null,
        bool OfNames = false
    );

    /// <summary>The calendar of the plant.</summary>
    /// <param name="TimeZone">Name of the IANA time zone database.</param>
    /// <param name="Shifts">Shifts with their start, as 06:00.</param>
    public sealed record CalendarEntry(string TimeZone, IReadOnlyList<ShiftEntry>? Shifts = null);

    /// <summary>A shift.</summary>
    /// <param name="Name">What people call it.</param>
    /// <param name="Start">When it begins, as 06:00.</param>
    public sealed record ShiftEntry(string Name, string Start);

    /// <summary>Templates.</summary>
    public IReadOnlyList<TemplateEntry> Templates { get; init; } = [];

    /// <summary>Nodes in plant order: siblings stand in the order in which they are listed.</summary>
    public IReadOnlyList<EquipmentEntry> Equipment { get; init; } = [];

    /// <summary>What kinds of devices expose.</summary>
    public IReadOnlyList<LayoutEntry> Layouts { get; init; } = [];

    /// <summary>Controllers with their tags.</summary>
    public IReadOnlyList<ControllerEntry> Controllers { get; init; } = [];

    /// <summary>Bindings.</summary>
    public IReadOnlyList<BindingEntry> Bindings { get; init; } = [];

    /// <summary>A state list.</summary>
    public sealed record StateListEntry([property: JsonRequired] string Code, string? Name, IReadOnlyList<StateEntry>? States);

    /// <summary>One state; the key is what a text says for it.</summary>
    public sealed record StateEntry(
        [property: JsonRequired] int Value,
        [property: JsonRequired] string Name,
        bool? Abnormal = null,
        string? Key = null
    );

    /// <summary>A unit: so many of another, which is named by its code.</summary>
    public sealed record UnitEntry(
        [property: JsonRequired] string Code,
        [property: JsonRequired] string Symbol,
        string? Name,
        [property: JsonRequired] double Factor,
        [property: JsonRequired] string Of
    );

    /// <summary>A scale of the library.</summary>
    public sealed record LibraryScaleEntry(
        [property: JsonRequired] string Code,
        string? Name,
        string? Description,
        [property: JsonRequired] ScaleEntry Scale
    );

    /// <summary>A template: what it declares itself, and what it refines of what it inherits.</summary>
    public sealed record TemplateEntry([property: JsonRequired] string Code)
    {
        /// <summary>Name; the code when it is left out.</summary>
        public string? Name { get; init; }

        /// <summary>Code of the template it inherits from.</summary>
        public string? Inherits { get; init; }

        /// <summary>What it is for.</summary>
        public string? Description { get; init; }

        /// <summary>The levels it stands at; those it inherits when they are left out.</summary>
        public IReadOnlyList<EquipmentLevel>? Levels { get; init; }

        /// <summary>Labels its instances have.</summary>
        public IReadOnlyDictionary<string, string>? Labels { get; init; }

        /// <summary>What an instance is made with.</summary>
        public IReadOnlyList<PartEntry>? Parts { get; init; }

        /// <summary>Properties it declares, and those it refines.</summary>
        public IReadOnlyList<PropertyEntry>? Properties { get; init; }

        /// <summary>What it says about inherited properties, by their code.</summary>
        public IReadOnlyDictionary<string, FactsEntry>? Refines { get; init; }

        /// <summary>Naming rules kept for its properties.</summary>
        public IReadOnlyList<RuleEntry>? NamingRules { get; init; }
    }

    /// <summary>A naming rule: the code of the property, the rule as people write it, and the text of the tags it is about (Name when it is
    /// not said).</summary>
    public sealed record RuleEntry([property: JsonRequired] string Property, [property: JsonRequired] string Rule, TagFace? Face = null);

    /// <summary>A tag refused for a property.</summary>
    public sealed record RefusedEntry(
        [property: JsonRequired] string Property,
        [property: JsonRequired] string Controller,
        [property: JsonRequired] string Tag
    );

    /// <summary>Who checked a binding on the plant, and when.</summary>
    public sealed record CheckEntry([property: JsonRequired] string By, [property: JsonRequired] DateTimeOffset At);

    /// <summary>A part of a template.</summary>
    public sealed record PartEntry(
        [property: JsonRequired] string Code,
        string? Name,
        [property: JsonRequired] string Template,
        [property: JsonRequired] EquipmentLevel Level,
        int? Count
    );

    /// <summary>What a layer says about a property.</summary>
    public record FactsEntry
    {
        /// <summary>UNECE Rec 20 code, or that of an own unit.</summary>
        public string? Unit { get; init; }

        /// <summary>Low and high.</summary>
        public IReadOnlyList<double>? Range { get; init; }

        /// <summary>The scale, said here or named from the library.</summary>
        public ScaleEntry? Scale { get; init; }

        /// <summary>Code of a scale of the library, in place of <see cref="Scale"/>.</summary>
        public string? NamedScale { get; init; }

        /// <summary>Code of a state list.</summary>
        public string? StateList { get; init; }

        /// <summary>What older files call <see cref="StateList"/>; it is only read.</summary>
        public string? StateSet
        {
            get => null;
            init => StateList = value;
        }

        /// <summary>The value of a fixed property, as text.</summary>
        public string? Value { get; init; }

        /// <summary>How a calculated property is worked out.</summary>
        public string? Formula { get; init; }

        /// <summary>Seconds an entered value holds.</summary>
        public double? ValidSeconds { get; init; }

        /// <summary>What a command is given at a start: a value, or "last".</summary>
        public string? AtStart { get; init; }

        /// <summary>Seconds between two values a command that follows a formula is given.</summary>
        public double? FollowSeconds { get; init; }

        /// <summary>How far the formula has to move before it is given another.</summary>
        public double? FollowDeadband { get; init; }

        /// <summary>How it is recorded.</summary>
        public RecordingPatch? Recording { get; init; }

        /// <summary>True where it is one of the key figures its place shows.</summary>
        public bool? KeyFigure { get; init; }

        /// <summary>What it is.</summary>
        public string? Description { get; init; }

        /// <summary>Limits by their condition.</summary>
        public IReadOnlyDictionary<LimitCondition, LimitPatch>? Limits { get; init; }

        /// <summary>Limits that are none of the four levels, by their code.</summary>
        public IReadOnlyDictionary<string, LimitPatch>? OtherLimits { get; init; }
    }

    /// <summary>A property with what its template says about it.</summary>
    public sealed record PropertyEntry([property: JsonRequired] string Code) : FactsEntry
    {
        /// <summary>Name; the code when it is left out.</summary>
        public string? Name { get; init; }

        /// <summary>Where its value comes from; left out where an inherited property is refined.</summary>
        [JsonRequired]
        public PropertyKind Kind { get; init; }

        /// <summary>What its values are; left out where an inherited property is refined.</summary>
        [JsonRequired]
        public PropertyType Type { get; init; }

        /// <summary>False when it may stay without a tag.</summary>
        public bool? Required { get; init; }
    }

    /// <summary>A node of the plant.</summary>
    public sealed record EquipmentEntry([property: JsonRequired] string Path)
    {
        /// <summary>Name; the code when it is left out.</summary>
        public string? Name { get; init; }

        /// <summary>Its level.</summary>
        [JsonRequired]
        public EquipmentLevel Level { get; init; }

        /// <summary>Code of its template.</summary>
        public string? Template { get; init; }

        /// <summary>Code of the part of the template above that it was made from.</summary>
        public string? Part { get; init; }

        /// <summary>Its own labels.</summary>
        public IReadOnlyDictionary<string, string>? Labels { get; init; }

        /// <summary>What this instance says about its properties, by their code.</summary>
        public IReadOnlyDictionary<string, FactsEntry>? Sets { get; init; }

        /// <summary>Tags that are not to be proposed again.</summary>
        public IReadOnlyList<RefusedEntry>? Refused { get; init; }
    }

    /// <summary>A controller with its tags and devices.</summary>
    public sealed record ControllerEntry([property: JsonRequired] string Name) : ConnectionEntry
    {
        /// <summary>Time between two reads in milliseconds; 1000 when it is left out.</summary>
        public double? UpdateIntervalMs { get; init; }

        /// <summary>Other intervals, in milliseconds, by name.</summary>
        public IReadOnlyDictionary<string, double>? UpdateClasses { get; init; }

        /// <summary>How the device samples, by name of an update class, where that is not as the connection says.</summary>
        public IReadOnlyDictionary<string, SamplingEntry>? Sampling { get; init; }

        /// <summary>Tags of its own; those of devices are generated.</summary>
        public IReadOnlyList<TagEntry>? Tags { get; init; }

        /// <summary>Devices whose tags are generated.</summary>
        public IReadOnlyList<DeviceEntry>? Devices { get; init; }
    }

    /// <summary>How a device samples the tags of an update class.</summary>
    /// <param name="SamplingMs">Time between two samples, in milliseconds.</param>
    /// <param name="Queue">Values kept between two publishes.</param>
    /// <param name="Deadband">Smallest change told, in percent of a tag's range.</param>
    public sealed record SamplingEntry(double? SamplingMs, int? Queue, double? Deadband);

    /// <summary>What a kind of device exposes.</summary>
    public sealed record LayoutEntry(
        [property: JsonRequired] string Code,
        string? Name,
        string? Separator,
        IReadOnlyList<LayoutPointEntry>? Points
    );

    /// <summary>One value of a layout.</summary>
    public sealed record LayoutPointEntry(
        [property: JsonRequired] string Name,
        [property: JsonRequired] string Address,
        [property: JsonRequired] RawType Type
    )
    {
        /// <summary>Order of words and bytes; high words first when it is left out.</summary>
        public WordOrder? WordOrder { get; init; }

        /// <summary>Elements, or bytes of text; 1 when it is left out.</summary>
        public int? Count { get; init; }

        /// <summary>Code of the unit.</summary>
        public string? Unit { get; init; }

        /// <summary>Update class of its tags.</summary>
        public string? UpdateClass { get; init; }

        /// <summary>What it is.</summary>
        public string? Description { get; init; }
    }

    /// <summary>A device: its tags are those of its layout, from its bases on.</summary>
    public sealed record DeviceEntry(
        [property: JsonRequired] string Name,
        [property: JsonRequired] string Layout,
        [property: JsonRequired] int Base,
        int? BitBase,
        int? UnitId
    );

    /// <summary>A tag.</summary>
    public sealed record TagEntry([property: JsonRequired] string Name, [property: JsonRequired] RawType Type)
    {
        /// <summary>Where it is, as its protocol writes it: holding 120.</summary>
        public string? Address { get; init; }

        /// <summary>The table, in place of <see cref="Address"/>, as the first documents said it.</summary>
        public RegisterArea? Area { get; init; }

        /// <summary>The address on the wire in that table.</summary>
        public int? Offset { get; init; }

        /// <summary>Update class; the controller's own interval when it is left out.</summary>
        public string? UpdateClass { get; init; }

        /// <summary>Low and high of what the device gives, in its unit.</summary>
        public IReadOnlyList<double>? Range { get; init; }

        /// <summary>Order of words and bytes; high words first when it is left out.</summary>
        public WordOrder? WordOrder { get; init; }

        /// <summary>Elements of an array, or bytes of a text.</summary>
        public int? Count { get; init; }

        /// <summary>Code of the unit the device gives.</summary>
        public string? Unit { get; init; }

        /// <summary>What the device's documentation says of it.</summary>
        public string? Description { get; init; }
    }

    /// <summary>A binding: path of the instance, code of the property, and the tag that feeds it.</summary>
    public sealed record BindingEntry(
        [property: JsonRequired] string Equipment,
        [property: JsonRequired] string Property,
        [property: JsonRequired] string Controller,
        [property: JsonRequired] string Tag
    )
    {
        /// <summary>The part of the tag: an element of an array and bits of a word, as in "[2].0-3".</summary>
        public string? Slice { get; init; }

        /// <summary>What stands in for the tag while it is simulated.</summary>
        public SimulationEntry? Simulation { get; init; }

        /// <summary>Who checked it on the plant; not said when nobody has.</summary>
        public CheckEntry? Checked { get; init; }
    }

    /// <summary>A simulated source, in the property's unit.</summary>
    public sealed record SimulationEntry(
        [property: JsonRequired] SimulationShape Shape,
        [property: JsonRequired] double Low,
        [property: JsonRequired] double High,
        [property: JsonRequired] double PeriodSeconds
    );
}
