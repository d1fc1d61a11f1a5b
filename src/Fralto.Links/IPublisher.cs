namespace Fralto.Links;

/// <summary>A link that can say something to whoever listens, beside the tags it has.</summary>
public interface IPublisher
{
    /// <summary>Publishes a message.</summary>
    /// <param name="topic">Where.</param>
    /// <param name="payload">What.</param>
    /// <param name="stop">Ends it.</param>
    /// <returns>Why it was not taken; null when it was.</returns>
    Task<string?> PublishAsync(string topic, byte[] payload, CancellationToken stop);
}
