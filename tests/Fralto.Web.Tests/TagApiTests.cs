using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;

namespace Fralto.Web.Tests;

/// <summary>Values in over REST: tags of memory and commands; tag lists out; the pages of controllers with bad input.</summary>
public sealed class TagApiTests(EmptyPlant plant) : IClassFixture<EmptyPlant>, IAsyncLifetime
{
    private const string Model = """
        { "format": "fralto-model", "version": 1,
          "templates": [ { "code": "Oven", "properties": [
            { "code": "Set", "name": "Setpoint", "kind": "Command", "type": "Number", "unit": "CEL", "range": [0, 300] },
            { "code": "Now", "kind": "Measured", "type": "Number", "unit": "CEL", "range": [0, 300] } ] } ],
          "equipment": [ { "path": "W", "level": "Enterprise" }, { "path": "W/Oven", "level": "Unit", "template": "Oven" } ],
          "controllers": [ { "name": "notes", "protocol": "Memory", "tags": [ { "name": "sp", "type": "Float64", "address": "start 20" },
            { "name": "lot", "type": "Text" } ] },
                           { "name": "plc", "host": "127.0.0.1", "port": 1, "tags": [ { "name": "T", "type": "Int16",
                             "address": "input 0", "description": "a, \"b\"" } ] } ],
          "bindings": [ { "equipment": "W/Oven", "property": "Set", "controller": "notes", "tag": "sp" } ] }
        """;

    private RunningFralto _fralto = null!;

    public async ValueTask InitializeAsync()
    {
        _fralto = await plant.EmptiedAsync();
        (await _fralto.Http.PutAsync("/api/v1/model", Json(Model))).StatusCode.ShouldBe(HttpStatusCode.OK);
        await Value("notes", "sp", 20);
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task A_command_is_given_confirmed_and_noted()
    {
        var answer = await _fralto.Http.PostAsync("/api/v1/commands", Json("""{"path":"W/Oven/Set","value":150.5}"""));
        (await answer.Content.ReadFromJsonAsync<JsonObject>())!["outcome"]!.GetValue<string>().ShouldBe("Confirmed");
        await Value("notes", "sp", 150.5);
        var noted = (await _fralto.ListAsync("/api/v1/commands"))[0]!;
        (
            noted["target"]!.GetValue<string>(),
            noted["wanted"]!.GetValue<string>(),
            noted["outcome"]!.GetValue<string>(),
            noted["who"]!.GetValue<string>()
        ).ShouldBe(("W/Oven/Set", "150.5 °C", "confirmed", "API"));
    }

    [Fact]
    public async Task A_form_that_is_refused_does_not_print_the_password_that_was_typed()
    {
        var answer = await _fralto.PostAsync(
            "/controllers",
            "Save",
            ("Name", ""),
            ("Protocol", "Mqtt"),
            ("Host", "hub.local"),
            ("Port", "x"),
            ("Password", "s3cret-word"),
            ("UpdateIntervalMs", "0")
        );
        answer.StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        var page = await answer.Content.ReadAsStringAsync();
        page.ShouldContain("type it again");
        page.ShouldNotContain("s3cret-word");
        page.ShouldContain("hub.local");
    }

    /// <summary>A topic that holds what parts an address, taken as browsing takes it: it is there after a restart, and nothing keeps the
    /// plant from opening.</summary>
    [Fact]
    public async Task A_tag_with_an_odd_address_is_there_after_a_restart()
    {
        var odd = Model.Replace(
            "{ \"name\": \"plc\"",
            "{ \"name\": \"hub\", \"protocol\": \"Mqtt\", \"host\": \"127.0.0.1\", \"port\": 1, \"tags\": [ { \"name\": \"odd\", "
                + "\"type\": \"Float64\", \"address\": \"\\\"a | b #/x | y \\\"\" } ] }, { \"name\": \"plc\"",
            StringComparison.Ordinal
        );
        (await _fralto.Http.PutAsync("/api/v1/model", Json(odd))).StatusCode.ShouldBe(HttpStatusCode.OK);
        var before = (await _fralto.ListAsync("/api/v1/tags")).Single(t => t!["name"]!.GetValue<string>() == "odd")![
            "address"
        ]!.GetValue<string>();
        before.ShouldBe("\"a | b #/x | y \"");
        _fralto = await plant.RestartedAsync();
        (await _fralto.ListAsync("/api/v1/tags")).Single(t => t!["name"]!.GetValue<string>() == "odd")!["address"]!
            .GetValue<string>()
            .ShouldBe(before);
        (await _fralto.Http.GetFromJsonAsync<JsonObject>("/healthz"))!["leftOut"]!.GetValue<int>().ShouldBe(0);
    }

    [Fact]
    public async Task What_cannot_be_read_is_named_on_every_page_and_the_rest_runs()
    {
        _fralto = await plant.RestartedAsync(Spoil);
        try
        {
            var health = (await _fralto.Http.GetFromJsonAsync<JsonObject>("/healthz"))!;
            (health["status"]!.GetValue<string>(), health["leftOut"]!.GetValue<int>()).ShouldBe(("degraded", 1));
            foreach (var page in new[] { "/plant", "/controllers" })
                (await _fralto.Http.GetStringAsync(page)).ShouldContain("tag T");
            (await _fralto.Http.GetStringAsync("/left-out")).ShouldContain("holding x");
            await Value("notes", "sp", 20);
        }
        finally
        {
            await plant.BeginAnewAsync();
        }

        void Spoil()
        {
            using var database = new SqliteConnection($"Data Source={Path.Combine(plant.Place, "plant.db")};Pooling=False");
            database.Open();
            using var spoil = database.CreateCommand();
            spoil.CommandText = "UPDATE tag SET place = 'holding x' WHERE name = 'T'";
            spoil.ExecuteNonQuery().ShouldBe(1);
        }
    }

    /// <summary>However small the pages: put together they are the list, without gaps or doubles, also when it grows meanwhile.</summary>
    [Fact]
    public async Task A_list_comes_in_pages_that_make_it_up_again()
    {
        var whole = (await _fralto.ListAsync("/api/v1/tags")).Select(t => t!["name"]!.GetValue<string>()).ToArray();
        whole.Length.ShouldBe(3);
        foreach (var limit in new[] { 1, 2, 3, 10_000 })
        {
            var all = await _fralto.ListAsync($"/api/v1/tags?limit={limit}");
            all.Select(t => t!["name"]!.GetValue<string>()).ShouldBe(whole);
        }
        var first = (await _fralto.Http.GetFromJsonAsync<JsonObject>("/api/v1/equipment?limit=1"))!;
        first["items"]!.AsArray().Count.ShouldBe(1);
        // What is renamed or comes before leaves the cursor where its item is; what is gone says so.
        (
            await _fralto.Http.PutAsync(
                "/api/v1/model",
                Json(
                    Model.Replace(
                        "\"path\": \"W/Oven\"",
                        "\"path\": \"W/Aga\", \"level\": \"Unit\" }, { \"path\": \"W/Oven\"",
                        StringComparison.Ordinal
                    )
                )
            )
        ).StatusCode.ShouldBe(HttpStatusCode.OK);
        var next = (await _fralto.Http.GetFromJsonAsync<JsonObject>($"/api/v1/equipment?limit=5&cursor={first["next"]}"))!;
        next["items"]!.AsArray().Select(e => e!["code"]!.GetValue<string>()).ShouldBe(["Aga", "Oven"]);
        next["next"].ShouldBeNull();
        (await _fralto.Http.GetAsync("/api/v1/equipment?cursor=0~999999")).StatusCode.ShouldBe(HttpStatusCode.Gone);
        (await _fralto.Http.GetAsync("/api/v1/equipment?cursor=many")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
        (await _fralto.Http.GetAsync("/api/v1/equipment?limit=0")).StatusCode.ShouldBe(HttpStatusCode.BadRequest);
    }

    [Theory]
    [InlineData("""{"path":"W/Oven/Set","value":301}""", 422, "outside the range")]
    [InlineData("""{"path":"W/Oven/Set","value":"warm"}""", 422, "no number")]
    [InlineData("""{"path":"W/Oven/Set","value":[1]}""", 422, "a number, a text, true or false")]
    [InlineData("""{"path":"W/Oven/Now","value":1}""", 422, "only a command")]
    [InlineData("""{"path":"W/Oven/Nothing","value":1}""", 404, "Nothing has the path")]
    [InlineData("""{"value":1}""", 404, "Nothing has the path")]
    [InlineData("""{"path":""", 400, "")]
    public async Task A_command_that_cannot_be_given_says_why(string body, int status, string says)
    {
        var answer = await _fralto.Http.PostAsync("/api/v1/commands", Json(body));
        ((int)answer.StatusCode).ShouldBe(status);
        (await answer.Content.ReadAsStringAsync()).ShouldContain(says);
    }

    [Fact]
    public async Task A_tag_of_memory_is_written_and_a_device_is_not()
    {
        (await Put("notes", "lot", "\"A 17\"")).StatusCode.ShouldBe(HttpStatusCode.OK);
        (await Put("notes", "sp", "\"warm\"")).StatusCode.ShouldBe(HttpStatusCode.UnprocessableEntity);
        (await Put("notes", "nothing", "1")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await (await Put("plc", "T", "1")).Content.ReadAsStringAsync()).ShouldContain("is a device");
        (
            await _fralto.Http.PutAsync(
                "/api/v1/controllers/notes/tags/sp/value",
                new StringContent("{\"value\":1}", Encoding.UTF8, "text/plain")
            )
        ).StatusCode.ShouldBe(HttpStatusCode.UnsupportedMediaType);
    }

    [Fact]
    public async Task Tag_lists_come_as_csv_and_xlsx()
    {
        (await _fralto.Http.GetStringAsync("/api/v1/controllers/plc/tags.csv"))
            .TrimStart('\uFEFF')
            .ShouldBe("name,address,type,order,unit,low,high,description,update class\r\nT,input 0,int16,,,,,\"a, \"\"b\"\"\",\r\n");
        (await _fralto.Http.GetByteArrayAsync("/api/v1/controllers/plc/tags.xlsx")).AsSpan().StartsWith("PK"u8).ShouldBeTrue();
        (await _fralto.Http.GetAsync("/api/v1/controllers/nobody/tags.csv")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
        (await _fralto.Http.GetAsync("/api/v1/controllers/plc/tags.pdf")).StatusCode.ShouldBe(HttpStatusCode.NotFound);
    }

    private static StringContent Json(string body) => new(body, Encoding.UTF8, "application/json");

    private Task<HttpResponseMessage> Put(string controller, string tag, string value) =>
        _fralto.Http.PutAsync($"/api/v1/controllers/{controller}/tags/{tag}/value", Json($"{{\"value\":{value}}}"));

    private async Task Value(string controller, string name, double raw)
    {
        for (var tries = 0; ; tries++)
        {
            var tags = await _fralto.ListAsync("/api/v1/tags");
            if (
                tags!.Any(t =>
                    t!["controller"]!.GetValue<string>() == controller
                    && t["name"]!.GetValue<string>() == name
                    && t["raw"]?.GetValue<double>() == raw
                )
            )
                return;
            if (tries > 100)
                throw new ShouldAssertException($"{name} is not {raw}: {tags!.ToJsonString()}");
            await Task.Delay(50);
        }
    }
}
