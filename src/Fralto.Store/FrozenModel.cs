using System.Buffers;
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
    private const string Format = "fralto-frozen";
    private const int Newest = 1;

    /// <summary>Freezes a model.</summary>
    public static FrozenModel Of(PlantModel model)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        using var memory = new MemoryStream();
        using (var compressed = new BrotliStream(memory, CompressionLevel.Fastest, leaveOpen: true))
        {
            // What is counted on is no content: the same model is the same whenever it was frozen.
            compressed.Write(JsonSerializer.SerializeToUtf8Bytes(new Head(Format, Newest, model.NextId)));
            compressed.WriteByte((byte)'\n');
            var line = new ArrayBufferWriter<byte>();
            using var writer = new Utf8JsonWriter(line);
            foreach (var kind in EntityKinds.All)
            foreach (var entity in kind.All(model).OrderBy(kind.KeyOf, Comparer<object>.Default))
            {
                line.ResetWrittenCount();
                writer.Reset();
                Json.Added(writer, kind.Id, entity);
                writer.Flush();
                line.Write("\n"u8);
                compressed.Write(line.WrittenSpan);
                hash.AppendData(line.WrittenSpan);
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
