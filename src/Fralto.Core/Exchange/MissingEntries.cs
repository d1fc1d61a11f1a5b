using System.Collections;
using System.Reflection;
using System.Text.Json;

namespace Fralto.Core.Exchange;

/// <summary>Finds null where a list or a table of a document has an entry: JSON can say it there, and no entry means nothing.</summary>
internal sealed class MissingEntries
{
    private readonly Dictionary<Type, PropertyInfo[]> _walked = [];

    /// <summary>The place of the first null entry as a JSON path; null when there is none.</summary>
    public static string? Find(object document) => new MissingEntries().Find(document, "$");

    private string? Find(object at, string path)
    {
        if (at is IDictionary table)
        {
            foreach (DictionaryEntry entry in table)
            {
                if (entry.Value is null)
                    return $"{path}.{entry.Key}";
                if (IsWalked(entry.Value.GetType()) && Find(entry.Value, $"{path}.{entry.Key}") is { } missing)
                    return missing;
            }
            return null;
        }
        if (at is IEnumerable list)
        {
            var index = 0;
            foreach (var entry in list)
            {
                if (entry is null)
                    return $"{path}[{index}]";
                if (IsWalked(entry.GetType()) && Find(entry, $"{path}[{index}]") is { } missing)
                    return missing;
                index++;
            }
            return null;
        }
        if (!_walked.TryGetValue(at.GetType(), out var properties))
            _walked[at.GetType()] = properties = PropertiesOf(at.GetType());
        foreach (var property in properties)
            if (
                property.GetValue(at) is { } value
                && Find(value, $"{path}.{JsonNamingPolicy.CamelCase.ConvertName(property.Name)}") is { } missing
            )
                return missing;
        return null;
    }

    /// <summary>Properties that hold entries, or something that may.</summary>
    private static PropertyInfo[] PropertiesOf(Type type) =>
        [
            .. type.GetProperties(BindingFlags.Public | BindingFlags.Instance)
                .Where(p => p.GetMethod is not null && p.GetIndexParameters().Length == 0 && IsWalked(p.PropertyType)),
        ];

    private static bool IsWalked(Type type) =>
        type != typeof(string)
        && !type.IsPrimitive
        && !type.IsEnum
        && Nullable.GetUnderlyingType(type) is null
        && (type.IsClass || type.IsInterface)
        && type != typeof(Type);
}
