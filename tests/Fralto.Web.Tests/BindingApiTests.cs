using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;

namespace Fralto.Web.Tests;

/// <summary>Proposals and bindings over REST, and what the model format keeps of them.</summary>
public sealed class BindingApiTests(EmptyPlant plant) : IClassFixture<EmptyPlant>, IAsyncLifetime
{
    private const string Model = """
        { "format": "fralto-model", "version": 1,
          "templates": [ { "code": "Oven", "namingRules": [ { "property": "Door", "rule": "D{number:00}" } ], "properties": [
            { "code": "Heat", "name": "Heat", "kind": "Measured", "type": "Number", "unit": "CEL", "range": [0, 300] },
            { "code": "Set", "name": "Setpoint", "kind": "Command", "type": "Number", "unit": "CEL", "range": [0, 300] },
            { "code": "Door", "name": "Door", "kind": "Measured", "type": "Boolean", "required": false } ] } ],
          "equipment": [ { "path": "W", "level": "Enterprise" }, { "path": "W/S", "level": "Site" },
            { "path": "W/S/OV1", "level": "Unit", "template": "Oven" }, { "path": "W/S/OV2", "level": "Unit", "template": "Oven",
              "refused": [ { "property": "Set", "controller": "plc", "tag": "OV2_SP" } ] },
            { "path": "W/S/OV3", "level": "Unit", "template": "Oven" } ],
          "controllers": [ { "name": "plc", "host": "127.0.0.1", "port": 1, "tags": [
            { "name": "OV1_TT", "type": "Float32", "address": "holding 0", "unit": "CEL" }, { "name": "OV2_TT", "type": "Float32",
              "address": "holding 2", "unit": "CEL" }, { "name": "OV3_TT", "type": "Float32", "address": "holding 4", "unit": "BAR" },
            { "name": "OV1_SP", "type": "Float32", "address": "holding 10" }, { "name": "OV2_SP", "type": "Float32",
              "address": "holding 12" }, { "name": "OV3_SP", "type": "Float32", "address": "holding 14" },
            { "name": "D02", "type": "Bool", "address": "coil 2" } ] } ],
          "bindings": [ { "equipment": "W/S/OV1", "property": "Heat", "controller": "plc", "tag": "OV1_TT", "checked": { "by": "R. Malt",
            "at": "2026-06-01T12:00:00+00:00" } },
                        { "equipment": "W/S/OV1", "property": "Set", "controller": "plc", "tag": "OV1_SP" } ] }
        """;

    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync()
    {
        _fralto = await plant.EmptiedAsync();
        (await _fralto.Http.PutAsync("/api/v1/model", Json(Model))).StatusCode.ShouldBe(HttpStatusCode.OK);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private static StringContent Json(string json) => new(json, Encoding.UTF8, "application/json");

    private async Task<(int Status, string Text)> Post(string path, string body)
    {
        var answer = await _fralto.Http.PostAsync(path, Json(body));
        return ((int)answer.StatusCode, await answer.Content.ReadAsStringAsync());
    }

    private async Task<Dictionary<string, JsonNode>> Proposals(string ask)
    {
        var (status, text) = await Post("/api/v1/bindings/proposals", ask);
        status.ShouldBe(200, text);
        return JsonNode.Parse(text)!["proposals"]!.AsArray().ToDictionary(p => p!["path"]!.GetValue<string>(), p => p!);
    }

    [Fact]
    public async Task Every_open_required_cell_is_answered_with_certainty_and_reasons()
    {
        var proposals = await Proposals("{}");
        proposals.Keys.ShouldBe(["W/S/OV2/Heat", "W/S/OV2/Set", "W/S/OV3/Heat", "W/S/OV3/Set"], ignoreOrder: true);
        var heat = proposals["W/S/OV2/Heat"];
        (
            heat["kind"]!.GetValue<string>(),
            heat["controller"]!.GetValue<string>(),
            heat["tag"]!.GetValue<string>(),
            heat["address"]!.GetValue<string>()
        ).ShouldBe(("Proposed", "plc", "OV2_TT", "holding 2"));
        heat["certainty"]!.GetValue<double>().ShouldBeInRange(0.8, 1);
        heat["reasons"]!.AsArray().ShouldContain(r => r!["kind"]!.GetValue<string>() == "Rule");
        var held = proposals["W/S/OV3/Heat"];
        held["kind"]!.GetValue<string>().ShouldBe("Clash");
        held["reason"]!.GetValue<string>().ShouldContain("pressure");
        // What was refused stays refused, also when it came with the model.
        proposals["W/S/OV2/Set"]["tag"]?.GetValue<string>().ShouldNotBe("OV2_SP");
        var all = await Proposals("""{"all":true,"template":"oven","place":"W/S","threshold":0.5}""");
        (all["W/S/OV2/Door"]["kind"]!.GetValue<string>(), all["W/S/OV2/Door"]["tag"]!.GetValue<string>()).ShouldBe(("Proposed", "D02"));
        (await Post("/api/v1/bindings/proposals", "")).Status.ShouldBe(200);
    }

    [Fact]
    public async Task What_cannot_be_asked_says_why()
    {
        foreach (
            var (body, says) in new[]
            {
                ("""{"template":"Ofen"}""", "no template Ofen"),
                ("""{"place":"W/X"}""", "no equipment W/X"),
                ("""{"threshold":0}""", "above 0 and at most 1"),
            }
        )
        {
            var (status, text) = await Post("/api/v1/bindings/proposals", body);
            status.ShouldBe(422, body);
            text.ShouldContain(says);
        }
    }

    [Fact]
    public async Task Bindings_are_made_all_or_none_and_taken_off_again()
    {
        var (status, text) = await Post(
            "/api/v1/bindings",
            """{"bindings":[{"path":"W/S/OV2/Heat","controller":"plc","tag":"OV2_TT"},{"path":"W/S/OV2/Set","controller":"plc","""
                + "\"tag\":\"OV2_SP\"}]}"
        );
        status.ShouldBe(200, text);
        text.ShouldContain("Bind 2 properties of 1 instance");
        (await Proposals("{}")).Keys.ShouldBe(["W/S/OV3/Heat", "W/S/OV3/Set"], ignoreOrder: true);
        (await Post("/api/v1/bindings", """{"bindings":[{"path":"W/S/OV2/Heat"},{"path":"W/S/OV2/Set"}]}""")).Text.ShouldContain(
            "Unbind 2 properties"
        );
        var (refused, why) = await Post(
            "/api/v1/bindings",
            """{"bindings":[{"path":"W/S/OV2/Heat","tag":"OV2_TT"},{"path":"W/S/OV3/Heat","tag":"OV3_TT"}]}"""
        );
        refused.ShouldBe(422);
        JsonNode.Parse(why)!["findings"]!.AsArray().Single()!["place"]!.GetValue<string>().ShouldBe("$.bindings[1]");
        (await Proposals("{}")).Count.ShouldBe(4);
    }

    [Fact]
    public async Task A_binding_that_cannot_be_made_says_where_and_why()
    {
        foreach (
            var (body, says) in new[]
            {
                ("""{"bindings":[]}""", "at least one binding"),
                ("""{}""", "at least one binding"),
                ("""{"bindings":[{"path":"W/S/OV9/Heat","tag":"OV2_TT"}]}""", "no equipment W/S/OV9"),
                ("""{"bindings":[{"path":"Heat","tag":"OV2_TT"}]}""", "no equipment"),
                ("""{"bindings":[{"tag":"OV2_TT"}]}""", "no equipment"),
                ("""{"bindings":[{"path":"W/S/OV2/Heet","tag":"OV2_TT"}]}""", "no property Heet"),
                ("""{"bindings":[{"path":"W/S/OV2/Heat","tag":"OV2_XX"}]}""", "no tag OV2_XX"),
                ("""{"bindings":[{"path":"W/S/OV2/Heat","controller":"pcl","tag":"OV2_TT"}]}""", "no controller pcl"),
                ("""{"bindings":[{"path":"W/S/OV2/Heat","tag":"OV2_TT","slice":"4"}]}""", "no part of a tag"),
                ("""{"bindings":[{"path":"W/S/OV2/Heat","tag":"OV1_TT"}]}""", "already feeds W/S/OV1"),
                ("""{"bindings":[{"path":"W/S/OV2/Set","tag":"OV1_TT"}],"share":true}""", "takes commands"),
                ("""{"bindings":[{"path":"W/S/OV2/Heat","tag":"OV2_TT"},{"path":"W/S/OV2/Set"}]}""", "two requests"),
            }
        )
        {
            var (status, text) = await Post("/api/v1/bindings", body);
            status.ShouldBe(422, body);
            text.ShouldContain(says);
        }
    }

    [Fact]
    public async Task Rules_refusals_and_checks_go_out_with_the_model_and_come_in_again()
    {
        var model = await _fralto.Http.GetStringAsync("/api/v1/model");
        var document = JsonNode.Parse(model)!;
        document["templates"]![0]!["namingRules"]![0]!["rule"]!.GetValue<string>().ShouldBe("D{number:00}");
        document["bindings"]!.AsArray().Single(b => b!["property"]!.GetValue<string>() == "Heat")!["checked"]!["by"]!
            .GetValue<string>()
            .ShouldBe("R. Malt");
        (await (await _fralto.Http.PutAsync("/api/v1/model", Json(model))).Content.ReadFromJsonAsync<JsonObject>())!["changes"]!
            .GetValue<int>()
            .ShouldBe(0);
        var answer = await _fralto.Http.PutAsync(
            "/api/v1/model",
            Json(model.Replace("D{number:00}", "D{nmber}", StringComparison.Ordinal))
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await answer.Content.ReadAsStringAsync()).ShouldContain("namingRules[0].rule");
    }

    [Fact]
    public async Task Bad_addresses_of_the_board_show_a_board()
    {
        foreach (
            var path in new[]
            {
                "/bindings?template=x&cell=1.2.3&mark=a.b&listPage=-4&certainty=900",
                "/bindings?place=999999",
                "/bindings?handler=Tags&cell=9.9&filter=%3Cb%3E",
                "/checks?template=77&place=88&listPage=9&show=what",
            }
        )
            (await _fralto.Http.GetAsync(path)).StatusCode.ShouldBe(HttpStatusCode.OK, path);
    }
}
