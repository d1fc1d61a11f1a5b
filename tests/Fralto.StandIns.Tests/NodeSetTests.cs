using System.Xml;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.StandIns.Tests;

/// <summary>The demo plant as a NodeSet2 file, out and in, held to the published schema.</summary>
public class NodeSetTests
{
    private static readonly DateTimeOffset At = new(2026, 6, 1, 0, 0, 0, TimeSpan.Zero);

    private static readonly Lazy<PlantModel> Shipped = new(ShippedModel.Build);

    private static readonly Lazy<string> File2 = new(() => NodeSetWriter.Write(Shipped.Value, At));

    private static PlantModel Taken(string text, PlantModel into)
    {
        var library = NodeSetReader.Read(text, out var problem);
        problem.ShouldBeNull();
        var outcome = new TakeLibrary(library!).On(into);
        outcome.Problems.ShouldBeEmpty();
        return into.Apply(outcome.Changes);
    }

    [Fact]
    public void What_is_given_out_and_taken_in_gives_the_same_again()
    {
        var taken = Taken(File2.Value, PlantModel.Empty);
        // Formulas are declared last when they are taken in, once all they name is there.
        Sorted(NodeSetWriter.Write(taken, At)).Except(Sorted(File2.Value)).ShouldBeEmpty();
        Sorted(File2.Value).Except(Sorted(NodeSetWriter.Write(taken, At))).ShouldBeEmpty();
        var (before, after) = (Shipped.Value, taken);
        after.Templates.Count.ShouldBe(before.Templates.Count);
        after
            .Equipment.Values.Select(e => (after.Index.PathOf(e.Id), e.Name, e.Level))
            .Order()
            .ShouldBe(before.Equipment.Values.Select(e => (before.Index.PathOf(e.Id), e.Name, e.Level)).Order());
        foreach (var template in before.Templates.Values)
        {
            var again = after.Templates.Values.Single(t => t.Code == template.Code);
            again.Levels.ShouldBe(template.Levels);
            after
                .Index.PropertiesOf(again.Id)
                .Select(p => (p.Code, p.Name, p.Declaration.Kind, p.Declaration.Type, Unit(p), p.Facts.Formula))
                .Order()
                .ShouldBe(
                    before
                        .Index.PropertiesOf(template.Id)
                        .Select(p => (p.Code, p.Name, p.Declaration.Kind, p.Declaration.Type, Unit(p), p.Facts.Formula))
                        .Order()
                );
        }
        static string? Unit(ResolvedProperty p) => p.Declaration.Type is PropertyType.Number or PropertyType.Integer ? p.Facts.Unit : null;
    }

    [Fact]
    public void A_type_that_is_chosen_comes_with_what_it_is_made_of_and_with_its_objects_alone()
    {
        var (library, shipped) = (NodeSetReader.Read(File2.Value, out _)!, Shipped.Value);
        foreach (var type in library.Types)
        {
            var outcome = new TakeLibrary(library.Only([type.Id])).On(PlantModel.Empty);
            outcome.Problems.ShouldBeEmpty(type.Name);
            var taken = PlantModel.Empty.Apply(outcome.Changes);
            // By force: what is reached from its template in the plant that was given out.
            var template = shipped.Templates.Values.Single(t => t.Name == type.Name);
            var needed = new HashSet<long>();
            Reach(template.Id);
            taken.Templates.Values.Select(t => t.Code).Order().ShouldBe(needed.Select(id => shipped.Templates[id].Code).Order(), type.Name);
            var instances = shipped.Equipment.Values.Where(e => needed.Contains(e.TemplateId ?? 0)).ToArray();
            taken
                .Equipment.Values.Where(e => e.TemplateId is not null)
                .Select(e => taken.Index.PathOf(e.Id))
                .Order()
                .ShouldBe(instances.Select(e => shipped.Index.PathOf(e.Id)).Order(), type.Name);
            taken
                .Equipment.Values.Where(e => e.TemplateId is null)
                .Select(e => taken.Index.PathOf(e.Id))
                .ShouldBeSubsetOf(instances.SelectMany(e => shipped.Index.LineageOf(e.Id)).Select(e => shipped.Index.PathOf(e.Id)));
            taken.StateLists.Values.Select(s => s.Code).ShouldBeSubsetOf(shipped.StateLists.Values.Select(s => s.Code));

            void Reach(long id)
            {
                if (!needed.Add(id))
                    return;
                if (shipped.Templates[id].ParentId is { } parent)
                    Reach(parent);
                foreach (var part in shipped.Templates[id].Parts)
                    Reach(part.TemplateId);
                if (shipped.Templates[id].Code == "SiloPark")
                    Reach(shipped.Templates.Values.Single(t => t.Code == "Silo").Id);
            }
        }
        new TakeLibrary(library.Only([]))
            .On(PlantModel.Empty)
            .Problems.Single()
            .Message.ShouldBe("No type is chosen; choose at least one.");
    }

    [Fact]
    public void A_unit_of_ones_own_has_no_number_and_is_known_again_by_its_symbol()
    {
        static PlantModel WithBags(PlantModel model)
        {
            var made = new SaveOwnUnit(null, "BAGS", "bag", "bag of malt", 25, "KGM").On(model);
            made.Problems.ShouldBeEmpty();
            return model.Apply(made.Changes);
        }
        var model = WithBags(Shipped.Value);
        var bags = new SaveProperty(
            model.Templates.Values.Single(t => t.Code == "Kiln").Id,
            null,
            "Bags",
            "Bags",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { Unit = "BAGS", Range = new(0, 100) }
        ).On(model);
        bags.Problems.ShouldBeEmpty();
        var text = NodeSetWriter.Write(model.Apply(bags.Changes), At);
        text.ShouldContain("<UnitId>-1</UnitId>");
        var taken = Taken(text, WithBags(PlantModel.Empty));
        taken
            .Index.PropertiesOf(taken.Templates.Values.Single(t => t.Code == "Kiln").Id)
            .Single(p => p.Code == "Bags")
            .Facts.Unit.ShouldBe("BAGS");
    }

    [Fact]
    public void Taken_into_the_plant_it_comes_from_it_changes_nothing()
    {
        var outcome = new TakeLibrary(NodeSetReader.Read(File2.Value, out _)!).On(Shipped.Value);
        outcome.Problems.Single().Message.ShouldBe("All of these are there already.");
    }

    /// <summary>Schema: UANodeSet.xsd as published with node-opcua-nodesets 2.139.0, found where the stand-in's packages are.</summary>
    [Fact]
    [Trait("source", "UANodeSet.xsd")]
    public void It_is_valid_by_the_published_schema()
    {
        var schema = Up("src/Fralto.StandIns/OpcUa/server/node_modules/node-opcua-nodesets/nodesets/UANodeSet.xsd");
        var problems = new List<string>();
        var settings = new XmlReaderSettings { ValidationType = ValidationType.Schema };
        settings.Schemas.Add(null, schema);
        settings.ValidationEventHandler += (_, e) => problems.Add($"{e.Exception.LineNumber}: {e.Message}");
        using var reader = XmlReader.Create(new StringReader(File2.Value), settings);
        while (reader.Read()) { }
        problems.Where(p => !p.Contains("Types.xsd", StringComparison.Ordinal)).Take(5).ShouldBeEmpty();
    }

    /// <summary>A file of another hand: types with optional members, a range that is the instrument's, and one object.</summary>
    [Fact]
    public void A_file_of_another_hand_becomes_templates_and_equipment()
    {
        var model = Taken(
            """
            <UANodeSet xmlns="http://opcfoundation.org/UA/2011/03/UANodeSet.xsd">
              <NamespaceUris><Uri>urn:example:pumps</Uri></NamespaceUris>
              <Aliases><Alias Alias="Double">i=11</Alias><Alias Alias="HasComponent">i=47</Alias>
                <Alias Alias="HasSubtype">i=45</Alias></Aliases>
              <UADataType NodeId="ns=1;i=3001" BrowseName="1:PumpMode"><DisplayName>Pump mode</DisplayName>
                <References><Reference ReferenceType="HasSubtype" IsForward="false">i=29</Reference></References>
                <Definition Name="1:PumpMode"><Field Name="Off" Value="0"/><Field Name="Manual" Value="5"/></Definition></UADataType>
              <UAObjectType NodeId="ns=1;i=1001" BrowseName="1:PumpType"><DisplayName>Pump</DisplayName>
                <References><Reference ReferenceType="HasSubtype" IsForward="false">i=58</Reference>
                  <Reference ReferenceType="HasComponent">ns=1;i=6001</Reference></References></UAObjectType>
              <UAObjectType NodeId="ns=1;i=1002" BrowseName="1:FeedPumpType"><DisplayName>Feed pump</DisplayName>
                <References><Reference ReferenceType="HasSubtype" IsForward="false">ns=1;i=1001</Reference></References></UAObjectType>
              <UAVariable NodeId="ns=1;i=6001" BrowseName="1:DischargePressure" DataType="Double">
                <DisplayName>Discharge pressure</DisplayName>
                <References><Reference ReferenceType="HasProperty">ns=1;i=6002</Reference>
                  <Reference ReferenceType="HasProperty">ns=1;i=6003</Reference></References></UAVariable>
              <UAVariable NodeId="ns=1;i=6002" BrowseName="EURange" DataType="i=884"><DisplayName>EURange</DisplayName><References/>
                <Value><ExtensionObject xmlns="http://opcfoundation.org/UA/2008/02/Types.xsd">
                  <TypeId><Identifier>i=885</Identifier></TypeId>
                  <Body><Range><Low>0</Low><High>16</High></Range></Body></ExtensionObject></Value></UAVariable>
              <UAVariable NodeId="ns=1;i=6003" BrowseName="EngineeringUnits" DataType="i=887">
                <DisplayName>EngineeringUnits</DisplayName><References/>
                <Value><ExtensionObject xmlns="http://opcfoundation.org/UA/2008/02/Types.xsd">
                  <TypeId><Identifier>i=888</Identifier></TypeId>
                  <Body><EUInformation><NamespaceUri>http://www.opcfoundation.org/UA/units/un/cefact</NamespaceUri><UnitId>4342098</UnitId>
                  </EUInformation></Body></ExtensionObject></Value></UAVariable>
              <UAVariable NodeId="ns=1;i=6010" BrowseName="1:Mode" DataType="ns=1;i=3001" AccessLevel="3"><DisplayName>Mode</DisplayName>
                <References><Reference ReferenceType="HasComponent" IsForward="false">ns=1;i=1002</Reference></References></UAVariable>
              <UAObject NodeId="ns=1;i=5001" BrowseName="1:P 101"><DisplayName>Feed pump 101</DisplayName>
                <References><Reference ReferenceType="i=40">ns=1;i=1002</Reference>
                  <Reference ReferenceType="i=35" IsForward="false">i=85</Reference></References></UAObject>
            </UANodeSet>
            """,
            PlantModel.Empty
        );
        var feed = model.Templates.Values.Single(t => t.Code == "FeedPump");
        model.Templates[feed.ParentId!.Value].Code.ShouldBe("Pump");
        var pressure = model.Index.PropertiesOf(feed.Id).Single(p => p.Code == "DischargePressure");
        (pressure.Name, pressure.Facts.Unit, pressure.Facts.Range, pressure.Declaration.Kind).ShouldBe(
            ("Discharge pressure", "BAR", new Span(0, 16), PropertyKind.Measured)
        );
        var mode = model.Index.PropertiesOf(feed.Id).Single(p => p.Code == "Mode");
        (mode.Declaration.Type, mode.Declaration.Kind).ShouldBe((PropertyType.State, PropertyKind.Command));
        model.StateLists[mode.Facts.StateListId!.Value].NameOf(5).ShouldBe("Manual");
        var pump = model.Equipment.Values.Single();
        (pump.Code, pump.Name, pump.TemplateId).ShouldBe(("P-101", "Feed pump 101", feed.Id));
    }

    [Theory]
    [InlineData("", "it is no XML")]
    [InlineData("<UANodeSet", "it is no XML")]
    [InlineData("<a/>", "it begins with a, and no UANodeSet")]
    [InlineData("<!DOCTYPE a [<!ENTITY x 'y'>]><a>&x;</a>", "it is no XML")]
    [InlineData("<UANodeSet xmlns=\"http://opcfoundation.org/UA/2011/03/UANodeSet.xsd\"/>", "no object types and no objects")]
    public void What_is_no_such_file_is_said_so(string text, string says)
    {
        NodeSetReader.Read(text, out var problem).ShouldBeNull();
        problem!.ShouldContain(says);
    }

    [Fact]
    public void Types_in_a_circle_are_refused_or_taken_and_never_hang()
    {
        var library = new TypeLibrary(
            [],
            [
                new("a", "AType", "A", "", "b", [], [new("B", "B", "b", null)]),
                new("b", "BType", "B", "", "a", [], [new("A", "A", "a", null)]),
            ],
            []
        );
        new TakeLibrary(library).On(PlantModel.Empty).Problems.Single().Message.ShouldContain("B");
    }

    private static IEnumerable<string> Sorted(string text) =>
        System.Xml.Linq.XDocument.Parse(text).Root!.Elements().Select(e => e.ToString()).Order(StringComparer.Ordinal);

    private static string Up(string path)
    {
        for (var at = AppContext.BaseDirectory; at is not null; at = Path.GetDirectoryName(at))
            if (System.IO.File.Exists(Path.Combine(at, path)))
                return Path.Combine(at, path);
        throw new FileNotFoundException(path);
    }
}
