using Fralto.Core.Controllers;
using Fralto.Core.Notices;
using Fralto.Store;

namespace Fralto.Runtime;

/// <summary>What is kept for links beside the model: passwords, encrypted, and what tags of memory hold.</summary>
/// <remarks>A password belongs to the place it was given for: however a controller comes to point elsewhere, by a form, a model that is
/// taken in or an edit taken back, it is not sent there.</remarks>
public sealed class LinkKeeping(RunStore store, ISecretProtector protector, TimeProvider clock)
{
    /// <summary>The password to send where a connection leads; null when none was given for that place, or none that can still be
    /// read.</summary>
    public string? Password(long controllerId, Connection connection)
    {
        if (connection.PasswordPlace is null)
            return null;
        // Those of the first versions were kept without a place: it is the one the controller has led to until now.
        if (store.Secret(controllerId) is var (old, none) && none is null)
            KeepFor(controllerId, old, PlaceOf(connection));
        // Kept with the keys of another data directory it has to be typed again.
        return KeptAt(controllerId, PlaceOf(connection)) is { } at && store.Secret(at) is var (secret, _)
            ? protector.Unprotect(secret)
            : null;
    }

    /// <summary>The other place a password is kept for; null when none is kept, or it is for where the connection leads.</summary>
    public string? PasswordIsFor(long controllerId, Connection connection) =>
        connection.PasswordPlace is not null
        && KeptAt(controllerId, PlaceOf(connection)) is null
        && store.Secret(controllerId) is (_, { } place)
            ? place
            : null;

    /// <summary>Keeps the password of a controller for where its connection leads; empty forgets it.</summary>
    /// <returns>Why it could not be kept; null when it was.</returns>
    public string? SetPassword(long controllerId, Connection? connection, string password) =>
        connection is null ? KeepFor(controllerId, null, null) ?? KeepFor(-controllerId, null, null)
        : password.Length == 0 ? KeepFor(KeptAt(controllerId, PlaceOf(connection)) ?? controllerId, null, null)
        : Move(controllerId, PlaceOf(connection)) ?? KeepFor(controllerId, protector.Protect(password), PlaceOf(connection));

    /// <summary>Where the password for a place is kept: under the controller, or beside it while another was given for where the working
    /// model leads; null when none is.</summary>
    private long? KeptAt(long controllerId, string place) =>
        store.Secret(controllerId) is (_, { } one) && one == place ? controllerId
        : store.Secret(-controllerId) is (_, { } other) && other == place ? -controllerId
        : null;

    /// <summary>What runs goes on with its own password while the working model leads elsewhere: that one steps aside for the new
    /// one.</summary>
    private string? Move(long controllerId, string place) =>
        store.Secret(controllerId) is var (secret, old) && old is not null && old != place ? KeepFor(-controllerId, secret, old) : null;

    /// <summary>The password to sign in to a mail server with; null when none was given for it, or none that can still be read.</summary>
    /// <param name="setupId">Id of what the alarms of the plant share.</param>
    /// <param name="mail">The server.</param>
    public string? MailPassword(long setupId, MailServer mail) =>
        mail.PasswordPlace is { } place && store.Secret(setupId) is (var secret, { } known) && known == place
            ? protector.Unprotect(secret)
            : null;

    /// <summary>Keeps the password of a mail server; empty forgets it.</summary>
    /// <returns>Why it could not be kept; null when it was.</returns>
    public string? SetMailPassword(long setupId, MailServer? mail, string password) =>
        KeepFor(
            setupId,
            mail?.PasswordPlace is null || password.Length == 0 ? null : protector.Protect(password),
            password.Length == 0 ? null : mail?.PasswordPlace
        );

    /// <summary>What was kept of a tag of memory.</summary>
    public string? Load(long tagId) => store.MemoryValue(tagId);

    /// <summary>Keeps what a tag of memory holds.</summary>
    /// <returns>Why it could not be kept; null when it was.</returns>
    public string? Keep(long tagId, string value) => Try(() => store.SetMemoryValue(tagId, value, clock.GetUtcNow()));

    private string? KeepFor(long controllerId, string? secret, string? place) => Try(() => store.SetSecret(controllerId, secret, place));

    private static string? Try(Action write)
    {
        try
        {
            write();
            return null;
        }
        catch (StoreException e)
        {
            return e.Message;
        }
    }

    private static string PlaceOf(Connection connection) => connection.PasswordPlace ?? connection.Place;
}
