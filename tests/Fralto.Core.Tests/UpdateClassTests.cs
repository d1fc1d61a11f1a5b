using System.Text;
using System.Text.RegularExpressions;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.OpcUa;
using Fralto.Core.Plant;

namespace Fralto.Core.Tests;

/// <summary>Update classes in words, in files and in edits.</summary>
public sealed class UpdateClassTests
{
    [Fact]
    public void Words_of_update_classes_are_read_back_as_what_they_were()
    {
        var random = new Random(4711);
        for (var round = 0; round < 500; round++)
        {
            UpdateClass[] classes = [.. Enumerable.Range(0, random.Next(1, 5)).Select(n => Any($"c{n}"))];
            UpdateClassText.Read(UpdateClassText.Of(classes), out var problem).ShouldBe(classes);
            problem.ShouldBeNull();
            UpdateClassText.Read(UpdateClassText.Of(classes, "; "), out _).ShouldBe(classes);
        }

        UpdateClass Any(string name) =>
            new(name, TimeSpan.FromMilliseconds(random.Next(1, 10) * random.GetItems([50, 1000, 1500, 60_000, 3_600_000], 1)[0]))
            {
                Sampling = random.Next(2) == 0 ? null : TimeSpan.FromMilliseconds(random.Next(1, 100_000)),
                Queue = random.Next(2) == 0 ? null : random.Next(1, 1000),
                Deadband = random.Next(2) == 0 ? null : random.Next(0, 1000) / 10.0,
            };
    }

    [Theory]
    [InlineData("slow", "'slow' is no update class")]
    [InlineData("slow 5", "'slow 5' is no update class")]
    [InlineData("slow 5 s sampling 1 s", "is no update class")]
    [InlineData("slow -5 s", "is no update class")]
    [InlineData("slow 5 s, queue many", "'queue many' says nothing an update class knows")]
    [InlineData("slow 5 s, queue 2, queue 3", "'queue 3' says nothing")]
    [InlineData("slow 5 s, every 2 s", "'every 2 s' says nothing")]
    [InlineData("slow 5 s,", "'' says nothing")]
    public void What_is_no_update_class_is_refused_with_what_one_is(string text, string says)
    {
        UpdateClassText.Read(text, out var problem).ShouldBeEmpty();
        problem.ShouldNotBeNull().ShouldContain(says);
    }

    [Fact]
    public void How_a_server_samples_is_kept_in_model_files_and_refused_where_nobody_samples()
    {
        var classes = UpdateClassText.Read("slow 1 min, sampling 10 s, queue 6, deadband 2.5 %\nquick 100 ms", out _);
        var plant = new PlantBuilder();
        plant.Do(_ => new SaveController(null, "ua", new OpcUaConnection("opc.tcp://h"), 0, classes));
        var written = ModelFormat.Write(plant.Model);
        var document = ModelFormat.Read(written, out var problem);
        problem.ShouldBeNull();
        var again = PlantModel.Empty.Apply(new ReplaceModel(document!).On(PlantModel.Empty).Changes);
        again.Controllers.Values.Single().UpdateClasses.ShouldBe(classes);
        ModelFormat.Write(again).ShouldBe(written);

        plant
            .Refused(_ => new SaveController(null, "plc", new ModbusConnection("h", 502, 1), 500, classes))
            .Select(p => p.Message)
            .ShouldBe(["Update class slow: Modbus TCP has neither sampling nor queue nor deadband; leave them out."]);
        plant
            .Refused(_ => new SaveController(
                null,
                "ua2",
                new OpcUaConnection("opc.tcp://h"),
                0,
                [new("wild", TimeSpan.FromSeconds(1)) { Queue = 0, Deadband = 101 }]
            ))
            .Count(p => p.Field == "UpdateClasses")
            .ShouldBe(2);
        var misnamed = ModelFormat.Read(
            Encoding.UTF8.GetBytes(
                Regex.Replace(Encoding.UTF8.GetString(written), "(\"sampling\":\\s*\\{\\s*)\"slow\"", "$1\"slo\"", RegexOptions.None)
            ),
            out _
        );
        new ReplaceModel(misnamed!).On(PlantModel.Empty).Problems.ShouldContain(p => p.Message == "ua has no update class slo.");
    }
}
