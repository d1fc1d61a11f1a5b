using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Threading.Channels;
using Fralto.Core.Alarms;
using Fralto.Core.Commands;
using Fralto.Core.Limits;
using Fralto.Core.Mqtt;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Links;
using Fralto.Runtime.Views;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Sets off what alarms are answered with: once a raise, once when the condition has gone. On tasks of its own and with a bounded
/// queue: whoever is called may be slow or gone, the plant runs on. What came of it stands in the alarm log.</summary>
public sealed class AlarmResponder : IRuntimeSink, IAsyncDisposable
{
    private const int MostWaiting = 2_000;
    private const int AtOnce = 4;
    private const int LongestReason = 200;
    private static readonly TimeSpan LongestPublish = TimeSpan.FromSeconds(10);

    private readonly Channel<(AlarmEvent Event, AlarmResponse Response, EngineSnapshot Snapshot)> _waiting = Channel.CreateBounded<(
        AlarmEvent,
        AlarmResponse,
        EngineSnapshot
    )>(new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.Wait });
    private readonly ModelWorkspace _workspace;
    private readonly CommandWriter _commands;
    private readonly LinkSupervisor _links;
    private readonly AlarmLog _log;
    private readonly HttpClient _http;
    private readonly TimeProvider _clock;
    private readonly ILogger<AlarmResponder> _logger;
    private readonly CancellationTokenSource _stopping = new();
    private readonly Task _work;

    public AlarmResponder(
        PlantRuntime runtime,
        ModelWorkspace workspace,
        CommandWriter commands,
        AlarmLog log,
        HttpClient http,
        TimeProvider clock,
        ILogger<AlarmResponder> logger
    )
    {
        (_workspace, _commands, _links, _log, _http, _clock, _logger) = (workspace, commands, runtime.Links, log, http, clock, logger);
        _work = Task.WhenAll(Enumerable.Range(0, AtOnce).Select(_ => Task.Run(WorkAsync)));
        runtime.Attach(this);
    }

    /// <inheritdoc/>
    public void Take(RuntimeOutput output)
    {
        var model = _workspace.Released;
        if (model.Responses.IsEmpty)
            return;
        foreach (var e in output.Events)
            if (e.Cause is AlarmCause.ConditionRaised or AlarmCause.ConditionCleared && !e.State.IsPutAway())
                foreach (var response in ResponsesOf(model, output.Snapshot, e))
                    if (!_waiting.Writer.TryWrite((e, response, output.Snapshot)))
                        Note(e, response, false, $"{MostWaiting} are waiting already; it was not tried");
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _waiting.Writer.TryComplete();
        await _stopping.CancelAsync();
        await _work.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        _stopping.Dispose();
    }

    /// <summary>The responses an event sets off: those its limit names, and those that go by its priority and labels.</summary>
    internal static IEnumerable<AlarmResponse> ResponsesOf(PlantModel model, EngineSnapshot snapshot, AlarmEvent e)
    {
        var named = (snapshot.Find(e.Key.EquipmentId, e.Key.PropertyId)?.Point.LimitOf(e.Key.Condition)?.Says?.Responses ?? "").Split(
            ',',
            StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
        );
        foreach (var response in model.Responses)
        {
            if (e.Cause == AlarmCause.ConditionCleared && response.ClearText is null)
                continue;
            var isAt = response.Label is not { } label || AlarmFilter.HasLabel(model, e.Key.EquipmentId, label);
            if (isAt && (named.Contains(response.Name, StringComparer.OrdinalIgnoreCase) || response.Priorities.Contains(e.Priority)))
                yield return response;
        }
    }

    private async Task WorkAsync()
    {
        try
        {
            await foreach (var (e, response, snapshot) in _waiting.Reader.ReadAllAsync(_stopping.Token))
            {
                var (isDone, result) = (false, "");
                try
                {
                    (isDone, result) = response.Kind switch
                    {
                        ResponseKind.Call => await CallAsync(response, e, snapshot),
                        ResponseKind.Publish => await PublishAsync(response, e, snapshot),
                        _ => await WriteAsync(response, e, snapshot),
                    };
                }
                catch (Exception failure) when (failure is not OutOfMemoryException && !_stopping.IsCancellationRequested)
                {
                    result = failure.Message;
                    _logger.LogWarning("Response {Response} failed: {Reason}", response.Name, failure.Message);
                }
                Note(e, response, isDone, result);
            }
        }
        catch (OperationCanceledException)
        {
            // Stopping is how it ends.
        }
    }

    private async Task<(bool, string)> CallAsync(AlarmResponse response, AlarmEvent e, EngineSnapshot snapshot)
    {
        var (text, isJson) = Said(response, e, snapshot);
        using var body = new StringContent(text, Encoding.UTF8, isJson ? "application/json" : "text/plain");
        using var answer = await _http.PostAsync(new Uri(response.Target), body, _stopping.Token);
        return (answer.IsSuccessStatusCode, $"answered {(int)answer.StatusCode}");
    }

    private async Task<(bool, string)> WriteAsync(AlarmResponse response, AlarmEvent e, EngineSnapshot snapshot)
    {
        var model = _workspace.Released;
        var path = Filled(response.Target, e, snapshot);
        var slash = path.LastIndexOf('/');
        if (
            slash < 0
            || model.Index.Find(path[..slash]) is not { TemplateId: not null } node
            || model.Index.PropertiesOf(node).FirstOrDefault(p => p.Code.Equals(path[(slash + 1)..], StringComparison.OrdinalIgnoreCase))
                is not { } property
        )
            return (false, $"nothing has the path {path}");
        var text = Filled(e.Cause == AlarmCause.ConditionRaised ? response.Text : response.ClearText!, e, snapshot);
        if (CommandOrder.Read(model, node.Id, property.Id, text, out var problem) is not { } order)
            return (false, problem ?? "it cannot be written");
        var result = await _commands.GiveAsync(order, "", new($"response {response.Name}", ActorRights.Command));
        return (
            result.Outcome == WriteOutcome.Confirmed,
            result.Outcome == WriteOutcome.Confirmed ? $"{text} read back" : $"{result.Outcome}: {result.Reason}"
        );
    }

    private async Task<(bool, string)> PublishAsync(AlarmResponse response, AlarmEvent e, EngineSnapshot snapshot)
    {
        var (name, topic) = (response.Broker.Controller, Filled(response.Broker.Topic, e, snapshot));
        if (_workspace.Released.Controllers.Values.FirstOrDefault(c => c.Name == name) is not { } broker)
            return (false, $"there is no controller {name}");
        if (TopicAddress.TopicProblem(topic) is { } wrong)
            return (false, wrong);
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(_stopping.Token);
        limit.CancelAfter(LongestPublish);
        var refused = await _links.PublishAsync(broker.Id, topic, Encoding.UTF8.GetBytes(Said(response, e, snapshot).Text), limit.Token);
        return (refused is null, refused ?? $"the broker has taken it for {topic}");
    }

    /// <summary>What is sent: the text, filled in, or all of the alarm as JSON where none is said.</summary>
    private static (string Text, bool IsJson) Said(AlarmResponse response, AlarmEvent e, EngineSnapshot snapshot) =>
        (e.Cause == AlarmCause.ConditionRaised ? response.Text : response.ClearText!) is { Length: > 0 } text
            ? (Filled(text, e, snapshot), false)
            : (
                JsonSerializer.Serialize(
                    new
                    {
                        e.Path,
                        e.Limit,
                        State = e.State.ToString(),
                        e.Priority,
                        Value = double.IsFinite(e.Value) ? e.Value : (double?)null,
                        e.Message,
                        Time = e.Time.UtcDateTime,
                    },
                    JsonSerializerOptions.Web
                ),
                true
            );

    private static string Filled(string text, AlarmEvent e, EngineSnapshot snapshot)
    {
        var point = snapshot.Find(e.Key.EquipmentId, e.Key.PropertyId)?.Point;
        if (point?.Watch is { Subject: >= 0 and var subject })
            point = snapshot.Plan.Points[subject];
        return AlarmText.Fill(text, name => name switch
            {
                "path" => e.Path,
                "place" => e.Path[..Math.Max(0, e.Path.LastIndexOf('/'))],
                "property" => e.Path[(e.Path.LastIndexOf('/') + 1)..],
                "value" => point?.Text(e.Value, null) ?? e.Value.ToString("R", CultureInfo.InvariantCulture),
                "unit" => point?.Unit?.Symbol ?? "",
                "limit" => e.Limit,
                "priority" => e.Priority.ToString(CultureInfo.InvariantCulture),
                "message" => e.Message,
                "state" => e.State.ToString(),
                _ => null,
            });
    }

    private void Note(AlarmEvent e, AlarmResponse response, bool isDone, string result) =>
        _log.Note(
            e with
            {
                Time = _clock.GetUtcNow(),
                Cause = isDone ? AlarmCause.ResponseDone : AlarmCause.ResponseFailed,
                Value = double.NaN,
                Who = response.Name,
                Comment = result.Length > LongestReason ? result[..LongestReason] : result,
                SourceTime = null,
            }
        );
}
