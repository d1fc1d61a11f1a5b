using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Adds a controller, or changes one when an id is given.</summary>
public sealed record SaveController(long? Id, string Name, string Host, int Port, int UnitId, int UpdateIntervalMs) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        Controller? before = null;
        if (Id is { } id && !model.Controllers.TryGetValue(id, out before)) return Gone("The controller");
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        if (model.Controllers.Values.Any(c => c.Id != Id && string.Equals(c.Name, Name, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Name), $"There is already a controller named {Name}."));
        Check(problems, nameof(Host), HostProblem(Host));
        if (Port is < 1 or > 65535) problems.Add(new(nameof(Port), $"A TCP port is 1 to 65535, not {Port}. Modbus devices listen on 502."));
        if (UnitId is < 0 or > 255) problems.Add(new(nameof(UnitId), $"A unit id is 0 to 255, not {UnitId}."));
        if (UpdateIntervalMs < Controller.ShortestInterval.TotalMilliseconds || UpdateIntervalMs > Controller.LongestInterval.TotalMilliseconds)
            problems.Add(new(nameof(UpdateIntervalMs), $"An update interval is {Controller.ShortestInterval.TotalMilliseconds} ms to 1 h (3600000 ms), not {UpdateIntervalMs}."));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        var after = new Controller(Id ?? model.NextId, Name, Host, Port, UnitId, TimeSpan.FromMilliseconds(UpdateIntervalMs));
        return EditOutcome.Changed(before is null ? $"Add controller {Name}" : $"Change controller {Name}", new ModelChange(before, after));
    }

    private static string? HostProblem(string host)
    {
        if (string.IsNullOrWhiteSpace(host)) return "Give the device's host name or IP address.";
        if (host.Length > 253) return "A host name has at most 253 characters.";
        return Uri.CheckHostName(host) == UriHostNameType.Unknown ? $"'{host}' is neither a host name nor an IP address." : null;
    }
}
