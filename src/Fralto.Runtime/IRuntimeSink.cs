namespace Fralto.Runtime;

/// <summary>Something that hangs on what the running plant puts out: open pages, what keeps history, what publishes.</summary>
public interface IRuntimeSink
{
    /// <summary>Takes what was put out; called on the engine's thread, so it returns at once and does its work elsewhere.</summary>
    void Take(RuntimeOutput output);
}
