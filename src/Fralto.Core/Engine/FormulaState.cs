namespace Fralto.Core.Engine;

/// <summary>What one function of a formula keeps of what has been, as it is written down.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Piece">Which function of the formula it is.</param>
/// <param name="Signature">The function as text: another one does not take it up.</param>
/// <param name="State">What is kept.</param>
public sealed record FormulaState(long EquipmentId, long PropertyId, int Piece, string Signature, byte[] State);
