namespace Fralto.Core.Units;

/// <summary>What a unit measures, as exponents of base quantities.</summary>
/// <remarks>
/// The seven of the SI, the plane angle (so that a torque is no energy and a rotation no frequency), and one for each scale of its own
/// that no factor leads out of: gas volume at normal and at standard state, temperature differences, acidity, turbidity, level, calendar
/// months.
/// </remarks>
public readonly record struct Dimension
{
    private readonly UInt128 _exponents;

    private Dimension(UInt128 exponents) => _exponents = exponents;

    /// <summary>A pure number.</summary>
    public static Dimension None => default;

    /// <summary>Time.</summary>
    public static Dimension Time => Of(BaseQuantity.Time);

    /// <summary>The exponent of a base quantity, -128 to 127.</summary>
    public int this[BaseQuantity quantity] => (sbyte)(byte)(_exponents >> (8 * (int)quantity));

    /// <summary>The dimension of a product.</summary>
    public static Dimension operator *(Dimension left, Dimension right) => left.Join(right, 1);

    /// <summary>The dimension of a quotient.</summary>
    public static Dimension operator /(Dimension left, Dimension right) => left.Join(right, -1);

    /// <summary>A base quantity to a power.</summary>
    public static Dimension Of(BaseQuantity quantity, int power = 1) => new((UInt128)(byte)(sbyte)power << (8 * (int)quantity));

    /// <summary>This dimension to a whole power.</summary>
    public Dimension ToThe(int power) => None.Join(this, power);

    /// <inheritdoc/>
    public override string ToString() =>
        string.Join(" ", Enum.GetValues<BaseQuantity>().Where(Has).Select(Word)) is { Length: > 0 } text ? text : "1";

    private Dimension Join(Dimension other, int times)
    {
        UInt128 joined = 0;
        foreach (var quantity in Enum.GetValues<BaseQuantity>())
            joined |= (UInt128)(byte)checked((sbyte)(this[quantity] + times * other[quantity])) << (8 * (int)quantity);
        return new(joined);
    }

    private bool Has(BaseQuantity quantity) => this[quantity] != 0;

    private string Word(BaseQuantity quantity) => $"{quantity}{(this[quantity] == 1 ? "" : $"^{this[quantity]}")}";
}
