using System.Globalization;
using System.Text;
using CsvHelper;
using Parquet.Serialization;

namespace Fralto.Web.Api;

/// <summary>What was recorded as a file: CSV (RFC 4180) or Apache Parquet.</summary>
internal static class HistoryFile
{
    private const int RowGroup = 100_000;

    public static async Task<IResult> AnswerAsync(IEnumerable<HistoryDto> rows, string format, CancellationToken stop)
    {
        if (format == "csv")
            return Results.Stream(
                async stream =>
                {
                    await using var writer = new StreamWriter(stream, new UTF8Encoding(false));
                    await using var csv = new CsvWriter(writer, CultureInfo.InvariantCulture);
                    foreach (var name in new[] { "path", "time", "value", "text", "status", "statusCode", "reason" })
                        csv.WriteField(name);
                    await csv.NextRecordAsync();
                    foreach (var row in rows)
                    {
                        csv.WriteField(row.Path);
                        csv.WriteField(row.Time.ToString("O", CultureInfo.InvariantCulture));
                        csv.WriteField(row.Value?.ToString("R", CultureInfo.InvariantCulture) ?? "");
                        csv.WriteField(row.Text);
                        csv.WriteField(row.Status.Name);
                        csv.WriteField(row.Status.Number);
                        csv.WriteField(row.Reason);
                        await csv.NextRecordAsync();
                    }
                },
                "text/csv; charset=utf-8",
                "history.csv"
            );
        // A file of Parquet ends with what leads through it, and is written from its end: it is made whole first.
        var file = new MemoryStream();
        var isFirst = true;
        foreach (var some in rows.Select(ParquetRow.Of).Chunk(RowGroup).DefaultIfEmpty([]))
        {
            await ParquetSerializer.SerializeAsync(some, file, new() { Append = !isFirst }, cancellationToken: stop);
            isFirst = false;
        }
        return Results.File(file.ToArray(), "application/vnd.apache.parquet", "history.parquet");
    }

    /// <summary>A row of the file; times are of microseconds.</summary>
    internal sealed class ParquetRow
    {
        [System.Text.Json.Serialization.JsonPropertyName("path")]
        public string Path { get; set; } = "";

        [System.Text.Json.Serialization.JsonPropertyName("time")]
        [Parquet.Serialization.Attributes.ParquetTimestamp(
            Parquet.Serialization.Attributes.ParquetTimestampResolution.Microseconds,
            isAdjustedToUTC: true
        )]
        public DateTime Time { get; set; }

        [System.Text.Json.Serialization.JsonPropertyName("value")]
        public double? Value { get; set; }

        [System.Text.Json.Serialization.JsonPropertyName("text")]
        public string? Text { get; set; }

        [System.Text.Json.Serialization.JsonPropertyName("status")]
        public string Status { get; set; } = "";

        [System.Text.Json.Serialization.JsonPropertyName("statusCode")]
        public long StatusCode { get; set; }

        [System.Text.Json.Serialization.JsonPropertyName("reason")]
        public string? Reason { get; set; }

        public static ParquetRow Of(HistoryDto row) =>
            new()
            {
                Path = row.Path,
                Time = row.Time,
                Value = row.Value,
                Text = row.Text,
                Status = row.Status.Name,
                StatusCode = row.Status.Number,
                Reason = row.Reason,
            };
    }
}
