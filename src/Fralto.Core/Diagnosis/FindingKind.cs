namespace Fralto.Core.Diagnosis;

/// <summary>What a kind of finding means: the text behind its code.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Title">It in a few words.</param>
/// <param name="Meaning">What it means.</param>
/// <param name="Why">Why it matters.</param>
/// <param name="Mend">How it is mended.</param>
public sealed record FindingKind(string Code, string Title, string Meaning, string Why, string Mend)
{
    /// <summary>All kinds, by code.</summary>
    public static IReadOnlyList<FindingKind> All { get; } =
    [
        new(
            "FR101",
            "Not bound",
            "A measured property or a command of an instance has no tag.",
            "It has no value: nothing is shown, worked out or watched there. A warning where the property is required, else a hint.",
            "Bind it under Bindings, or say that the property is not required in this template."
        ),
        new(
            "FR102",
            "Tag not used",
            "A tag of a controller feeds no property.",
            "It is read for nobody; or something of the plant is not in the model yet.",
            "Bind it, or take it out under Controllers."
        ),
        new(
            "FR103",
            "No range",
            "A number has no range.",
            "Rulers and gauges cannot be drawn, limits in percent have nothing to be a percent of, and nobody sees that a value is absurd.",
            "Give the property a range in its template."
        ),
        new(
            "FR104",
            "Part missing",
            "The template has a part which this instance does not have.",
            "The instance was made before the part was added; what the part measures is missing here.",
            "Add the missing parts from the instance's sheet under Plant."
        ),
        new(
            "FR105",
            "Signal out of reach",
            "The raw type of the tag cannot hold both ends of the scale's signal.",
            "A part of the range can never be shown: the scale or the type of the tag is wrong.",
            "Correct the signal of the scale, or the type of the tag."
        ),
        new(
            "FR106",
            "Cannot be commanded",
            "The scale of a command cannot be turned round.",
            "A wanted value has no single raw value: the command cannot be given.",
            "Give it a scale that rises or falls all the way."
        ),
        new(
            "FR107",
            "Units to be looked at",
            "A value is converted between units that a factor leads from one to the other, and that are not the same thing.",
            "A share by mass is none by volume, a gauge pressure no absolute one, active power no apparent power, a frequency no speed: "
                + "the number is wrong and looks right.",
            "Correct the unit of the tag or of the property."
        ),
        new(
            "FR108",
            "Simulated",
            "A binding is simulated; its tag is not heard.",
            "What is shown is not the plant.",
            "End the simulation under Bindings."
        ),
        new(
            "FR109",
            "Called otherwise elsewhere",
            "A property has another name, code or description than the same one in other templates.",
            "People look for it under another name, and lists do not stand together.",
            "Rename it under Templates; what refers to it follows."
        ),
        new(
            "FR110",
            "No formula",
            "A calculated property has no formula.",
            "It has no value.",
            "Write the formula in its template, or at the instance."
        ),
        new(
            "FR111",
            "Formula does not hold",
            "A formula cannot be worked out where it stands: a name or a unit does not fit there.",
            "It has no value at this instance; it may hold at others.",
            "Correct the formula, or refine it where it does not hold."
        ),
        new(
            "FR112",
            "Formula in a circle",
            "A formula takes, directly or through others, its own value.",
            "None of them can be worked out.",
            "Break the circle: take the value it began with from somewhere else."
        ),
        new(
            "FR113",
            "Never worked out",
            "A formula takes something that has no value where it stands.",
            "It is Bad for as long as that is so.",
            "Bind what it takes, or say what holds instead: x else y."
        ),
        new(
            "FR114",
            "No value so far",
            "A formula has not had a value since it runs.",
            "What it takes is Bad, or its condition has never held.",
            "Look at what it takes: its sheet says why it is Bad."
        ),
        new(
            "FR115",
            "Window not covered",
            "A window is longer than what it has covered since it began.",
            "The value is Uncertain until it has: a mean of eight hours after one.",
            "Wait; or choose a shorter window."
        ),
        new(
            "FR116",
            "Taken by nothing",
            "What is worked out or entered is taken by no formula and has no limit.",
            "Only people look at it; perhaps nobody does.",
            "Take it out when nobody needs it."
        ),
        new(
            "FR120",
            "Limit does not hold",
            "The condition of a limit cannot be worked out where it stands.",
            "Nobody watches it at this instance.",
            "Correct the condition, or take the limit away where it does not hold."
        ),
        new(
            "FR121",
            "Limit not watched",
            "A limit takes something that has no value where it stands.",
            "It can raise no alarm.",
            "Bind what it takes."
        ),
        new(
            "FR130",
            "Limit unfinished",
            "A limit lacks an operator action, a consequence, a time to respond, a deadband or a delay, or says the same as another.",
            "ISA-18.2 wants every alarm to have something an operator does and a reason; one without is a message, and one without "
                + "deadband rattles.",
            "Write what is missing under Alarms, Limits: one at a time, many at once, or as a table."
        ),
        new(
            "FR131",
            "Message not translated",
            "The message of a limit is not written in one of the plant's languages.",
            "Whoever reads that language reads another one just when it matters.",
            "Write it in the form of the limit."
        ),
        new(
            "FR140",
            "Template not used",
            "A template has no instance, no descendant, and is no part of another.",
            "It is in everybody's way when one is chosen; or the instances are still to be made.",
            "Make its instances, or take it out."
        ),
        new("FR141", "Scale not used", "A scale of the library scales nothing.", "It is in the way when one is chosen.", "Take it out."),
        new(
            "FR142",
            "State list not used",
            "A state list names the states of nothing.",
            "It is in the way when one is chosen.",
            "Take it out."
        ),
        new(
            "FR143",
            "Empty place",
            "A place has nothing below it.",
            "It is unfinished, or left over.",
            "Add what belongs there, or take it out."
        ),
        new(
            "FR145",
            "Label spelled otherwise",
            "Two values of a label differ only in capitals, blanks or signs.",
            "Filters and responses by label miss one of them.",
            "Change the label to the spelling that is used elsewhere."
        ),
        new(
            "FR146",
            "Number given twice",
            "An asset, serial or inventory number stands at two instances.",
            "Work orders and spare parts go to the wrong machine.",
            "Look at the plate, and correct one of them."
        ),
        new(
            "FR147",
            "Tag used twice",
            "A tag feeds two properties in the same way.",
            "Sometimes it is meant so, say one pressure of a main; mostly one of them belongs to another tag.",
            "Bind one of them to its own tag, or say that it is meant so."
        ),
        new(
            "FR148",
            "Value still as the template says",
            "A required fixed value was said at most instances and not at this one.",
            "It was mostly forgotten when the instance was made.",
            "Write it on the instance's sheet under Plant."
        ),
        new(
            "FR149",
            "Code written otherwise",
            "A code is not written as the plant writes the codes of its level or template.",
            "Proposals, lists and people go by codes; one that is written in another way is not found where it is looked for.",
            "Change the code under Plant, or the patterns under Templates, Codes and names."
        ),
        new(
            "FR150",
            "Outside its range",
            "A value lies outside the range of its property.",
            "The range, the scale or the unit is wrong; or the sensor is.",
            "Compare it with the plant; correct the scale, the range, or the unit of the tag."
        ),
        new(
            "FR151",
            "No good value",
            "A bound value is Bad: the controller is away, has no such tag, or says itself that the value is not to be used.",
            "Nothing is shown, worked out or watched there.",
            "Read the reason; look at the controller, the address of the tag, or the sensor."
        ),
        new(
            "FR152",
            "Binding looks wrong",
            "What the tag is called, its unit, or what it has held speaks against the binding.",
            "A swapped tag shows a plausible number of another machine.",
            "Look at it under Check bindings; bind it anew, or mark it as checked."
        ),
        new(
            "FR153",
            "Name written otherwise",
            "A name is not written as the plant writes the names of its level or template.",
            "People go by names, in alarms and lists; one that is written in another way is not found where it is looked for.",
            "Change the name under Plant, or the patterns under Templates, Codes and names."
        ),
        new(
            "FR154",
            "Raw values do not suit the signal",
            "What the controllers send for a property does not suit the signal, the word order or the range that is set.",
            "Values are wrong by a factor, or nonsense, at every instance that is read so.",
            "Look at the ruler of the property, which says what the values look like, and take what it proposes."
        ),
        new(
            "FR160",
            "Not recorded",
            "A template or an instance turns the recording of a property off.",
            "Nobody will be able to say what it was: of a limit that is argued over, of a batch that went wrong.",
            "Record it again under What is recorded, or in the form of the property."
        ),
        new(
            "FR161",
            "Recorded while nothing holds",
            "A property is recorded only while another one holds, and there is no such property.",
            "The condition is passed over, and everything is recorded.",
            "Name a property of the same instance by its code."
        ),
    ];

    /// <summary>The kind of a code.</summary>
    /// <exception cref="KeyNotFoundException">No finding has the code.</exception>
    public static FindingKind Of(string code) => All.FirstOrDefault(k => k.Code == code) ?? throw new KeyNotFoundException(code);
}
