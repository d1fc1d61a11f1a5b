namespace Fralto.Core.Basics;

/// <summary>Anything in the model with an identity. Ids are drawn from one counter, so no two entities of any kind share one.</summary>
public abstract record Entity(long Id);
