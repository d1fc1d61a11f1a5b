using System.IO.Compression;
using System.Security.Cryptography;
using System.Text.Json;
using Fralto.Core.Plant;

namespace Fralto.Store;

/// <summary>A whole model as bytes: every entity as the journal writes it, in one order, compressed.</summary>
/// <param name="Content">The compressed bytes.</param>
/// <param name="Hash">SHA-256 of the lines of its entities.</param>
public sealed record FrozenModel(byte[] Content, string Hash)
{
    private const string Format = "fralto-release";
    private const int Newest = 1;

    /// <summary>Freezes a model.</summary>
    public static FrozenModel Of(PlantModel model)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        using var memory = new MemoryStream();
        using (var compressed = new BrotliStream(memory, CompressionLevel.Fastest, leaveOpen: true))
        {
            void Line(byte[] utf8)
            {
                compressed.Write(utf8);
                compressed.WriteByte((byte)'\n');
            }
            // What is counted on is no content: the same model is the same whenever it was frozen.
            Line(JsonSerializer.SerializeToUtf8Bytes(new Head(Format, Newest, model.NextId)));
            foreach (var kind in EntityKinds.All)
            foreach (var entity in kind.All(model).OrderBy(kind.KeyOf, Comparer<object>.Default))
            {
                var line = Json.Bytes(ChangeRow.Of(new(null, entity)));
                Line(line);
                hash.AppendData(line);
                hash.AppendData("\n"u8);
            }
        }
        return new(memory.ToArray(), Convert.ToHexStringLower(hash.GetHashAndReset()));
    }

    /// <summary>The model again.</summary>
    /// <exception cref="StoreException">The bytes are damaged, or of a newer version.</exception>
    public PlantModel Thaw()
    {
        try
        {
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            using var plain = new MemoryStream();
            using (var compressed = new BrotliStream(new MemoryStream(Content), CompressionMode.Decompress))
                compressed.CopyTo(plain);
            var bytes = plain.GetBuffer().AsMemory(0, (int)plain.Length);
            hash.AppendData(bytes.Span[(bytes.Span.IndexOf((byte)'\n') + 1)..]);
            if (Convert.ToHexStringLower(hash.GetHashAndReset()) != Hash)
                throw new StoreException("A release is damaged: what it holds is not what was kept.");
            var (changes, head) = (new List<ModelChange>(), (Head?)null);
            while (bytes.Length > 0)
            {
                var end = bytes.Span.IndexOf((byte)'\n');
                var line = bytes[..end];
                bytes = bytes[(end + 1)..];
                if (head is null)
                {
                    head = JsonSerializer.Deserialize<Head>(line.Span)!;
                    if (head.Format != Format || head.Version != Newest)
                        throw new StoreException($"A release is of version {head.Version}; this Fralto reads {Newest}.");
                }
                else
                    changes.Add(Json.Read<ChangeRow>(line.Span).ToChange());
            }
            return PlantModel.Empty.Apply(changes) with { NextId = head!.NextId };
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or InvalidOperationException
                        or JsonException
                        or FormatException
                        or ArgumentException
                        or NullReferenceException
            )
        {
            throw new StoreException($"A release cannot be read: {e.Message.Split('\n')[0]}", e);
        }
    }

    private sealed record Head(string Format, int Version, long NextId);
}
