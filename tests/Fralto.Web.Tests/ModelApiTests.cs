using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace Fralto.Web.Tests;

/// <summary>The whole model over REST and on the command line.</summary>
public sealed class ModelApiTests(EmptyPlant plant) : IClassFixture<EmptyPlant>, IAsyncLifetime
{
    private const string Model = """
        { "format": "fralto-model", "version": 1,
          "templates": [ { "code": "Kiln", "properties": [ { "code": "AirOn", "kind": "Measured", "type": "Number", "unit": "CEL",
            "range": [0, 120] } ] } ],
          "equipment": [ { "path": "Corvane", "level": "Enterprise" }, { "path": "Corvane/KLN1", "name": "Kiln 1", "level": "Unit",
            "template": "Kiln" } ] }
        """;

    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-model-").FullName;
    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync() => _fralto = await plant.EmptiedAsync();

    public ValueTask DisposeAsync()
    {
        Directory.Delete(_directory, recursive: true);
        return ValueTask.CompletedTask;
    }

    [Fact]
    public async Task A_model_put_is_the_model_got_and_is_one_edit_that_can_be_taken_back()
    {
        // It is the first in the journal.
        await plant.BeginAnewAsync();
        _fralto = plant.Fralto;
        var answer = await PutAsync(Model);
        answer.StatusCode.ShouldBe(HttpStatusCode.OK);
        (await answer.Content.ReadFromJsonAsync<JsonObject>())!["summary"]!
            .GetValue<string>()
            .ShouldBe("Take in a whole model: 3 added, 0 changed, 0 taken out");
        var bytes = await _fralto.Http.GetByteArrayAsync("/api/v1/model");
        (await (await PutAsync(Encoding.UTF8.GetString(bytes))).Content.ReadAsStringAsync()).ShouldContain("nothing changed");
        (await _fralto.Http.GetByteArrayAsync("/api/v1/model")).ShouldBe(bytes);

        // What a program has done is taken back from the journal, by its number.
        var undone = await _fralto.Http.PostAsync(
            "/journal?handler=undo&id=1",
            new FormUrlEncodedContent([new("back", "/plant"), new("__RequestVerificationToken", await _fralto.TokenOfAsync("/plant"))])
        );
        undone.StatusCode.ShouldBe(HttpStatusCode.Redirect);
        (await _fralto.ListAsync("/api/v1/equipment")).Count.ShouldBe(0);
    }

    [Fact]
    public async Task What_was_changed_since_a_program_looked_is_not_written_over()
    {
        (await PutAsync(Model)).EnsureSuccessStatusCode();
        var got = await _fralto.Http.GetAsync("/api/v1/model");
        var (seen, model) = (got.Headers.ETag!.Tag, await got.Content.ReadAsStringAsync());
        (await PutAsync(model.Replace("\"Kiln\"", "\"Oven\"", StringComparison.Ordinal), seen)).StatusCode.ShouldBe(HttpStatusCode.OK);
        var overtaken = await PutAsync(model.Replace("\"Kiln\"", "\"Stove\"", StringComparison.Ordinal), seen);
        overtaken.StatusCode.ShouldBe(HttpStatusCode.PreconditionFailed);
        (await overtaken.Content.ReadAsStringAsync()).ShouldContain("Meanwhile API did this");
        (await _fralto.Http.GetStringAsync("/api/v1/model")).ShouldNotContain("Stove");
        (await PutAsync(model, "\"soon\"")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await PutAsync(model, "*")).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    [Fact]
    public async Task A_model_that_is_wrong_is_answered_with_everything_that_is_and_changes_nothing()
    {
        await PutAsync(Model);
        var answer = await PutAsync(
            Model
                .Replace("\"Kiln\" }", "\"Kilm\" }", StringComparison.Ordinal)
                .Replace("\"CEL\"", "\"XYZ\"", StringComparison.Ordinal)
                .Replace("Enterprise", "Site", StringComparison.Ordinal)
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var findings = (await answer.Content.ReadFromJsonAsync<JsonObject>())!["findings"]!.AsArray();
        findings.ShouldHaveSingleItem()!["place"]!.GetValue<string>().ShouldBe("$.equipment[1].template");
        findings[0]!["message"]!.GetValue<string>().ShouldBe("There is no template Kilm; did you mean Kiln?");
        (await _fralto.ListAsync("/api/v1/equipment")).Count.ShouldBe(2);
        (await PutAsync("{ nonsense")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await _fralto.Http.PutAsync("/api/v1/model", new StringContent(Model, Encoding.UTF8, "text/plain"))).StatusCode.ShouldBe(
            HttpStatusCode.UnsupportedMediaType
        );
    }

    [Fact]
    public async Task Bulk_lists_come_as_csv_and_xlsx()
    {
        await PutAsync(Model);
        var csv = await _fralto.Http.GetAsync("/api/v1/bulk/equipment.csv");
        csv.Content.Headers.ContentType!.MediaType.ShouldBe("text/csv");
        Encoding
            .UTF8.GetString(await csv.Content.ReadAsByteArrayAsync())
            .ShouldBe("\uFEFFpath,name,level,template,labels\r\nCorvane,Corvane,Enterprise,,\r\nCorvane/KLN1,Kiln 1,Unit,Kiln,\r\n");
        (await _fralto.Http.GetByteArrayAsync("/api/v1/bulk/properties.xlsx")).AsSpan().StartsWith("PK"u8).ShouldBeTrue();
        (await _fralto.Http.GetAsync("/api/v1/bulk/valves.csv")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await _fralto.Http.GetAsync("/api/v1/bulk/values.pdf")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    [Fact]
    public async Task Who_edits_what_another_has_changed_meanwhile_is_told_and_loses_nothing_typed()
    {
        await PutAsync(Model);
        var id = (await _fralto.ListAsync("/api/v1/equipment"))[1]!["id"]!.GetValue<long>();
        var form = await _fralto.Http.GetStringAsync($"/plant?at={id}&open=change");
        var seen = System.Text.RegularExpressions.Regex.Match(form, "name=\"__seen\" value=\"(\\d+)\"").Groups[1].Value;
        (string, string)[] Fields(string name, string head) =>
            [
                ("Id", $"{id}"),
                ("ParentId", System.Text.RegularExpressions.Regex.Match(form, "name=\"ParentId\" value=\"(\\d+)\"").Groups[1].Value),
                ("TemplateId", System.Text.RegularExpressions.Regex.Match(form, "name=\"TemplateId\" value=\"(\\d+)\"").Groups[1].Value),
                ("Name", name),
                ("Code", "KLN1"),
                ("Level", "Unit"),
                ("__seen", head),
            ];
        (await _fralto.PostAsync($"/plant?at={id}", "Save", Fields("Kiln one", seen))).StatusCode.ShouldBe(HttpStatusCode.Redirect);
        var second = await _fralto.PostAsync($"/plant?at={id}", "Save", Fields("First kiln", seen));
        second.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var page = WebUtility.HtmlDecode(await second.Content.ReadAsStringAsync());
        page.ShouldContain("Meanwhile local user did this");
        page.ShouldContain("Change Kiln one");
        page.ShouldContain("value=\"First kiln\"");
        var now = System.Text.RegularExpressions.Regex.Match(page, "name=\"__seen\" value=\"(\\d+)\"").Groups[1].Value;
        (await _fralto.PostAsync($"/plant?at={id}", "Save", Fields("First kiln", now))).StatusCode.ShouldBe(HttpStatusCode.Redirect);
    }

    [Theory]
    [InlineData(Model, 0, "whole; 1 templates, 2 pieces of equipment, 0 bindings, 1 warnings")]
    [InlineData(
        "{ \"format\": \"fralto-model\", \"version\": 1, \"equipment\": [ { \"path\": \"C\", \"level\": \"Site\" } ] }",
        1,
        "error $: C: A site needs a place above it"
    )]
    [InlineData("{", 1, "error $: Line 1:")]
    public void A_file_is_checked_without_starting_anything(string json, int code, string words)
    {
        var file = Path.Combine(_directory, "model.json");
        File.WriteAllText(file, json);
        using var output = new StringWriter();
        ModelCheck.Run(file, output, output).ShouldBe(code);
        output.ToString().ShouldContain(words);
    }

    [Fact]
    public void A_file_that_is_not_there_is_said()
    {
        using var errors = new StringWriter();
        ModelCheck.Run(Path.Combine(_directory, "none.json"), TextWriter.Null, errors).ShouldBe(2);
        errors.ToString().ShouldContain("cannot be read");
    }

    private async Task<HttpResponseMessage> PutAsync(string json, string? ifMatch = null)
    {
        using var request = new HttpRequestMessage(HttpMethod.Put, "/api/v1/model")
        {
            Content = new StringContent(json, Encoding.UTF8, "application/json"),
        };
        if (ifMatch is not null)
            request.Headers.TryAddWithoutValidation("If-Match", ifMatch);
        return await _fralto.Http.SendAsync(request);
    }
}
