using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.Store;

namespace Fralto.Runtime;

/// <summary>Finds out at a start what runs.</summary>
internal static class ReleasedState
{
    /// <summary>The working model beside the newest release that can be read.</summary>
    /// <param name="store">The plant.</param>
    /// <param name="model">The working model.</param>
    /// <param name="head">The newest entry of the journal.</param>
    /// <param name="isWhole">False when some of the working model could not be read.</param>
    /// <returns>The models, and why another release runs than the newest.</returns>
    public static (WorkspaceState State, string? Trouble) Load(PlantStore store, PlantModel model, long head, bool isWhole)
    {
        var releases = store.Releases.All();
        var newest = releases.Count > 0 ? releases[0].Number : 0;
        if (store.Releases.IsAutomatic ?? releases.Count == 0)
            return (new(model, model, NetChanges.None, true, newest), null);
        string? trouble = null;
        foreach (var release in releases)
        {
            // Nothing has been edited since: what the release holds is what there is.
            if (release.Head == head && isWhole)
                return (new(model, model, NetChanges.None, false, newest), trouble);
            try
            {
                if (store.Releases.Content(release.Number)?.Thaw() is not { } released)
                    continue;
                var net = NetChanges.Between(released, model, Known(store, release.Head));
                return (new(model, net.IsEmpty ? model : net.Before(model), net, false, newest), trouble);
            }
            catch (StoreException e)
            {
                trouble ??= $"Release {release.Number} cannot be run: {e.Message} An earlier one runs in its place; release anew.";
            }
        }
        return (new(model, model, NetChanges.None, false, newest), trouble ?? "No release can be read; the working model runs.");
    }

    /// <summary>Who has changed what since an entry of the journal.</summary>
    private static NetChanges Known(PlantStore store, long since)
    {
        var known = NetChanges.None;
        foreach (var (id, _, _, _) in store.JournalKinds().Where(e => e.Id > since))
            if (store.Entry(id) is var (entry, changes))
                known = known.After(changes, entry.Who, entry.At);
        return known;
    }
}
