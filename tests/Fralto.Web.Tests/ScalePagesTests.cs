using System.Net;
using System.Text.Json;

namespace Fralto.Web.Tests;

/// <summary>The pages of units, scales and chains as a person or a program meets them, with what is wrong said beside the field.</summary>
public sealed class ScalePagesTests(EmptyPlant plant) : IClassFixture<EmptyPlant>, IAsyncLifetime
{
    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync() => _fralto = await plant.EmptiedAsync();

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_pasted_table_becomes_a_scale_whatever_separates_its_numbers()
    {
        foreach (
            var (name, points) in new[]
            {
                ("A", "level;tonnes\n0;0\n0,5;3,25\n18;588"),
                ("B", "0\t0\n0.5\t3.25\n18\t588"),
                ("C", "0 0\n0.5 3.25\n18 588"),
                ("D", "0,0\n0.5,3.25\n18,588"),
            }
        )
        {
            var response = await Save(
                ("Name", name),
                ("ScaleKind", "Table"),
                ("Signal", "Milliamps"),
                ("InputLow", "0"),
                ("InputHigh", "18"),
                ("Points", points),
                ("ScaleUnit", "t")
            );
            response.StatusCode.ShouldBe(HttpStatusCode.Found, name);
        }
        var scales = (await Json("/api/v1/model")).GetProperty("scales").EnumerateArray().ToArray();
        scales.Length.ShouldBe(4);
        foreach (var scale in scales)
        {
            scale.GetProperty("scale").GetProperty("points")[1].EnumerateArray().Select(n => n.GetDouble()).ShouldBe([0.5, 3.25]);
            scale.GetProperty("scale").GetProperty("unit").GetString().ShouldBe("TNE");
        }
    }

    [Theory]
    [InlineData("Points", "0 0\nthree 4", "Line 2, 'three 4', is not two numbers")]
    [InlineData("Points", "0 0", "at least two points")]
    [InlineData("Points", "0 0\n0 1", "both have the input 0")]
    [InlineData("Points", "1 0\n0 1", "smallest first")]
    [InlineData("InputHigh", "", "Give both ends of what the signal stands for")]
    [InlineData("ScaleUnit", "tonnne", "did you mean t (tonne")]
    public async Task A_table_that_cannot_be_is_refused_beside_its_field_and_nothing_typed_is_lost(
        string field,
        string value,
        string message
    )
    {
        var fields = new Dictionary<string, string>
        {
            ["Name"] = "Silo",
            ["ScaleKind"] = "Table",
            ["Signal"] = "Milliamps",
            ["InputLow"] = "0",
            ["InputHigh"] = "18",
            ["Points"] = "0 0\n18 588",
            ["ScaleUnit"] = "t",
            [field] = value,
        };
        var response = await Save([.. fields.Select(f => (f.Key, f.Value))]);
        response.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var text = WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync());
        text.ShouldContain(message);
        text.ShouldContain("value=\"Silo\"");
        (await Json("/api/v1/model")).GetProperty("scales").GetArrayLength().ShouldBe(0);
    }

    [Fact]
    public async Task A_table_of_ten_thousand_points_is_taken_and_one_of_more_is_not()
    {
        static string Points(int count) => string.Join("\n", Enumerable.Range(0, count).Select(i => $"{i} {i * 2}"));
        (
            await Save(
                ("Name", "Long"),
                ("ScaleKind", "Table"),
                ("Signal", "Free"),
                ("RawLow", "0"),
                ("RawHigh", "10000"),
                ("Points", Points(10_000))
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Found);
        var response = await Save(
            ("Name", "Longer"),
            ("ScaleKind", "Table"),
            ("Signal", "Free"),
            ("RawLow", "0"),
            ("RawHigh", "10001"),
            ("Points", Points(10_001))
        );
        WebUtility.HtmlDecode(await response.Content.ReadAsStringAsync()).ShouldContain("A table has at most 10000 points");
    }

    [Fact]
    public async Task Units_are_searched_and_those_used_last_come_first()
    {
        (await Suggest("cubic metre per hour")).ShouldStartWith("m³/h");
        (await Suggest("m3/h")).ShouldStartWith("m³/h");
        await _fralto.PostAsync("/templates", "Save", ("Name", "Kiln"));
        var template = (await Json("/api/v1/templates"))[0].GetProperty("id").GetInt64();
        (
            await _fralto.PostAsync(
                $"/templates?at={template}&open=property",
                "Property",
                ("Name", "Gas"),
                ("Kind", "Measured"),
                ("Type", "Number"),
                ("Unit", "cbm/h")
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Found);
        (await Json("/api/v1/templates"))[0].GetProperty("properties")[0].GetProperty("unitCode").GetString().ShouldBe("MQH");
        (await Suggest("")).ShouldStartWith("m³/h");
        (await Suggest("<script>")).ShouldNotContain("<script>");
    }

    [Fact]
    public async Task A_unit_of_ones_own_is_added_converted_and_kept_while_it_is_used()
    {
        (
            await _fralto.PostAsync(
                "/units?open=new",
                "Save",
                ("Symbol", "bag"),
                ("Name", "bag of malt"),
                ("Code", "BAG25"),
                ("Factor", "25"),
                ("BaseCode", "kg")
            )
        ).StatusCode.ShouldBe(HttpStatusCode.Found);
        var page = WebUtility.HtmlDecode(await _fralto.Http.GetStringAsync("/units?unit=BAG25&number=40"));
        page.ShouldContain("1 bag =");
        page.ShouldContain(">1000</td>");
        var refused = await _fralto.PostAsync(
            "/units?open=new",
            "Save",
            ("Symbol", "kg"),
            ("Code", "AB"),
            ("Factor", "0"),
            ("BaseCode", "°C")
        );
        var text = WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync());
        text.ShouldContain("already the symbol of kilogram");
        text.ShouldContain("above 0");
        text.ShouldContain("zero of its own");
        WebUtility.HtmlDecode(await _fralto.Http.GetStringAsync("/units?unit=MQH&number=a")).ShouldContain("'a' is no number");
    }

    private Task<HttpResponseMessage> Save(params (string, string)[] fields) => _fralto.PostAsync("/scales?open=new", "Save", fields);

    private async Task<string> Suggest(string text) =>
        WebUtility.HtmlDecode(
            (await _fralto.Http.GetStringAsync($"/units?handler=Suggest&q={Uri.EscapeDataString(text)}")).Split("class=\"num\">", 2)
                is [_, var rest]
                ? rest
                : ""
        );

    private async Task<JsonElement> Json(string address) =>
        JsonDocument.Parse(await _fralto.Http.GetStringAsync(address)).RootElement is var answer
        && answer.TryGetProperty("items", out var items)
            ? items
            : answer;
}
