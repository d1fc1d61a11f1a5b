using Fralto.Core.Plant;

namespace Fralto.Web.Forms;

/// <summary>A place of the plant, written as a path.</summary>
internal static class PlaceField
{
    /// <summary>The place a path names; null for an empty one, null and a problem for one that nothing has.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="field">The field.</param>
    /// <param name="model">The model.</param>
    public static long? Read(FormReader reader, string field, PlantModel model)
    {
        var path = reader.Text(field).Trim('/');
        if (path.Length == 0)
            return null;
        var found = model.Index.Find(path);
        if (found is null)
            reader.Refuse(field, $"Nothing has the path {path}.");
        return found?.Id;
    }
}
