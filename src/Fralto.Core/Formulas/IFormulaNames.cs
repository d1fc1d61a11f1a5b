using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>What the names in a formula stand for, as seen from a template or from an instance.</summary>
public interface IFormulaNames
{
    /// <summary>The units.</summary>
    UnitSet Units { get; }

    /// <summary>What a property gives; null when there is none of that name.</summary>
    FormulaType? TypeOf(FormulaReference reference);

    /// <summary>Why there is none of that name, with the nearest there are.</summary>
    FormulaProblem Unknown(FormulaReference reference, int at, int end);

    /// <summary>What names stand for as seen from instances of a template below; null with the nearest templates when there is none of that
    /// name.</summary>
    IFormulaNames? Below(string template);

    /// <summary>Why there is no template of a name.</summary>
    FormulaProblem UnknownTemplate(string template, int at, int end);
}
