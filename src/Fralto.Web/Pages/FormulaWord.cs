namespace Fralto.Web.Pages;

/// <summary>A word a formula may go on with.</summary>
/// <param name="Text">What is put in.</param>
/// <param name="Note">What it gives, or how it is written.</param>
/// <param name="Meaning">What it is.</param>
public sealed record FormulaWord(string Text, string Note, string Meaning);
