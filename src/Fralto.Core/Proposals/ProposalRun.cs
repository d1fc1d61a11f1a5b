using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Proposals;

/// <summary>One question on its way to its answer: examples, rules, candidates, assignment, what clashes.</summary>
internal sealed class ProposalRun
{
    private const int MostCandidates = 12;
    private const double StrongRule = 0.6;
    private const double NearlyAll = 0.8;
    private const double FairRule = 0.4;
    private const double LowestOdds = -2.2;
    private const double Margin = 1.1;
    private const int FewestTogether = 2;
    private const double Together = 0.6;

    private const double Few = 0.15;

    // However much speaks for so few of many, it is not proposed.
    private const double MostAlone = 1;

    private readonly ProposalQuestion _question;
    private readonly PlantModel _model;
    private readonly TagLexicon _lexicon;
    private readonly PlantNames _nodes;
    private readonly MatrixLearner _learner;
    private readonly SpokenPlaces _places;
    private readonly CandidateValues _values;
    private readonly CandidateScorer _scorer;
    private readonly ControllerHomes _homes;
    private readonly ControllerNames? _controllers;
    private readonly TagsInUse _used;
    private readonly NumberRuns _runs;
    private readonly LetterOrder _letters;
    private readonly List<TemplateMatrix> _matrices = [];

    public ProposalRun(ProposalQuestion question)
    {
        (_question, _model) = (question, question.Model);
        _lexicon = question.Memory.LexiconOf(_model);
        var known = question.Memory.LearningOf(_model);
        _nodes = known.Nodes;
        _used = new(_model, _lexicon);
        var counted = new CountedTags(_model, _lexicon, _nodes);
        _places = new(_model, _lexicon, _nodes, counted);
        _values = new(question, _lexicon);
        _scorer = new(_model, _lexicon, _nodes, _used, _places, _values);
        _learner = new(_model, _lexicon, known, _used, _places, counted);
        _homes = new(_model, _lexicon, _nodes, known);
        _controllers = _model.Controllers.Count > 1 ? known.Controllers(_model) : null;
        _runs = new(_lexicon, _used, counted);
        _letters = new(_lexicon, _nodes);
    }

    public void Add(Template template, ResolvedProperty[] properties, Equipment[] instances, Equipment[] asked)
    {
        var matrix = new TemplateMatrix(
            template,
            properties,
            [.. instances.Select(e => _nodes.Of(e.Id))],
            [.. asked.Select(e => _nodes.Of(e.Id))],
            new(_model, properties)
        );
        _matrices.Add(matrix);
    }

    public ProposalMatrix Solve()
    {
        _learner.Learn(_matrices);
        var cells = Cells();
        foreach (var cell in cells)
            Name(cell);
        AddByWords(cells);
        foreach (var cell in cells)
            Weigh(cell);
        Assign(cells);
        OpenCell[] unshown = [.. cells.Where(c => !IsShown(c))];
        if (Neighbours(cells) | _homes.Compare(cells) | Lonely(cells) | _runs.Doubt(unshown) | _letters.Doubt(unshown))
            Assign(cells);
        return new(Answer(cells), [.. _matrices.SelectMany(RulesOf)]);
    }

    private List<OpenCell> Cells() =>
        [
            .. from matrix in _matrices
            from instance in matrix.Asked
            from property in matrix.Properties
            where !_model.Bindings.ContainsKey((instance.Instance.Id, property.Id))
            select new OpenCell(matrix, instance, property),
        ];

    /// <summary>Finds the tags that rules name for a cell.</summary>
    private void Name(OpenCell cell)
    {
        var named = new List<(RuleGuess Rule, double Strength, int Position, Slice? Slice)>();
        Span<char> room = stackalloc char[256];
        foreach (var guess in cell.Matrix.Guesses[cell.Property.Id])
        {
            if (guess.StrengthFor(cell.Instance) is not (> 0.05 and var strength))
                continue;
            var key = new KeyWriter(room);
            guess.Write(cell.Instance, ref key, out var whole);
            var slice = whole ? guess.Pattern.SliceFor(cell.Instance) : null;
            if (!whole || (guess.Pattern.NamesPart && slice is null))
                continue;
            foreach (var position in _lexicon.With(guess.Face, key.Key))
                if (!cell.Instance.Instance.Refuses(cell.Property.Id, _lexicon.Tags[position].Id))
                    named.Add((guess, strength, position, slice));
        }
        // Where a way to name was shown nearby and names nearly all that is there, one shown farther off is of other places.
        var nearest = named
            .Where(n =>
                n is { Rule: { IsSupposed: false, Example: not null }, Strength: >= StrongRule }
                && _used.IsFree(n.Position, n.Slice)
                && n.Rule.ShareNear(cell.Instance) >= NearlyAll
            )
            .GroupBy(n => n.Rule.Face)
            .ToDictionary(g => g.Key, g => g.Max(n => InstanceSample.Nearness(n.Rule.Example!.Instance, cell.Instance)));
        foreach (var (guess, strength, position, slice) in named)
        {
            if (
                guess.Example is { } example
                && nearest.TryGetValue(guess.Face, out var near)
                && InstanceSample.Nearness(example.Instance, cell.Instance) < near
            )
                continue;
            var candidate = cell.Of(position, slice);
            if (candidate.By[(int)guess.Face] is not { } known || known.StrengthFor(cell.Instance) < strength)
                candidate.By[(int)guess.Face] = guess;
        }
    }

    /// <summary>Where no rule names a free tag, tags whose words speak of the instance and of the property are looked at.</summary>
    private void AddByWords(List<OpenCell> cells)
    {
        var lacking = cells
            .Where(c =>
                !c.Candidates.Any(k => k.By.Any(g => g?.StrengthFor(c.Instance) >= StrongRule) && _used.IsFree(k.Position, k.Slice))
            )
            .ToArray();
        _places.Look(lacking.Select(c => c.Instance));
        foreach (var group in lacking.GroupBy(c => c.Instance))
        {
            var near = _places.Near(group.Key);
            foreach (var cell in group)
            foreach (
                var (position, _, words) in near.Select(n =>
                        (n, Match: _scorer.SaysTheSame(cell, n.Position) ? 1 : cell.Matrix.Words.Match(cell.Property.Id, n.Words))
                    )
                    .Where(n => n.Match >= 0.5)
                    .OrderByDescending(n => n.Match)
                    .Take(MostCandidates)
                    .Select(n => n.n)
            )
                if (!cell.Instance.Instance.Refuses(cell.Property.Id, _lexicon.Tags[position].Id))
                    cell.Of(position, PartOf(cell));
        }
    }

    /// <summary>The part of their tags that all examples of a property are bound to; null for all of it.</summary>
    private static Slice? PartOf(OpenCell cell) =>
        cell.Matrix.Examples[cell.Property.Id] is [var first, .. var rest] && rest.All(e => e.Slice == first.Slice) ? first.Slice : null;

    private void Weigh(OpenCell cell)
    {
        foreach (var candidate in cell.Candidates)
        {
            _scorer.Weigh(cell, candidate);
            if (!_used.IsFree(candidate.Position, candidate.Slice))
                Taken(cell, candidate);
        }
        _homes.Weigh(cell);
        if (cell.Candidates.Count <= MostCandidates)
            return;
        var best = cell.Candidates.OrderByDescending(c => c.Odds).Take(MostCandidates).ToArray();
        cell.Candidates.Clear();
        cell.Candidates.AddRange(best);
    }

    private void Taken(OpenCell cell, Candidate candidate)
    {
        var by = _used.By(candidate.Position, candidate.Slice)!;
        candidate.IsMisfit = true;
        candidate.Against ??=
            $"{_lexicon.Tags[candidate.Position].Name}{candidate.Slice} already feeds {_model.Index.PathOf(by.EquipmentId)} "
            + $"{_model.Index.PropertiesOf(_model.Equipment[by.EquipmentId].TemplateId!.Value).First(p => p.Id == by.PropertyId).Name}; "
            + $"one of the two is wrong.";
    }

    /// <summary>Gives each tag to the cell where it does the most good, over the whole matrix at once.</summary>
    private static void Assign(List<OpenCell> cells)
    {
        var columns = new Dictionary<(int, Slice?), int>();
        var pairs = new List<(int Row, int Column, double Gain)>();
        for (var row = 0; row < cells.Count; row++)
        {
            cells[row].Given = null;
            foreach (var candidate in cells[row].Candidates)
            {
                if (candidate.IsMisfit || candidate.Odds <= LowestOdds)
                    continue;
                if (!columns.TryGetValue((candidate.Position, candidate.Slice), out var column))
                    columns[(candidate.Position, candidate.Slice)] = column = columns.Count;
                pairs.Add((row, column, candidate.Odds - LowestOdds));
            }
        }
        var given = SparseAssignment.Solve(cells.Count, columns.Count, pairs);
        var sources = new (int Position, Slice? Slice)[columns.Count];
        foreach (var (source, column) in columns)
            sources[column] = source;
        for (var row = 0; row < cells.Count; row++)
            if (given[row] >= 0)
                cells[row].Given = cells[row].Of(sources[given[row]].Position, sources[given[row]].Slice);
    }

    /// <summary>Instance after instance at the same step: addresses that keep it speak for their tags, one that breaks it
    /// against.</summary>
    /// <returns>True when something was changed by it.</returns>
    private bool Neighbours(List<OpenCell> cells)
    {
        var changed = false;
        foreach (var column in cells.Where(c => c.Given is { Slice: null }).GroupBy(c => (c.Matrix, c.Property.Id)))
        {
            var known = column
                .Key.Matrix.Examples[column.Key.Id]
                .Where(e => e.Slice is null)
                .Select(e => (e.Instance, At: AddressOf(e.Position)))
                .Concat(column.Where(c => c.Given!.Certainty > 0.7).Select(c => (c.Instance, At: AddressOf(c.Given!.Position))))
                .Where(k => k.At is not null)
                .Select(k => (k.At!.Value.Controller, k.At.Value.Number, Order: OrderOf(k.Instance)))
                .Where(k => k.Order is not null)
                .ToArray();
            foreach (
                var line in known
                    .GroupBy(k => k.Controller)
                    .Where(g => g.Count() > 3)
                    .Select(g => AddressLine.Through(g.Key, [.. g.Select(k => (k.Order!.Value, k.Number))]))
                    .OfType<AddressLine>()
            )
            foreach (var cell in column)
            {
                if (
                    AddressOf(cell.Given!.Position) is not { } at
                    || at.Controller != line.Source
                    || OrderOf(cell.Instance) is not { } order
                )
                    continue;
                var keeps = Math.Abs(line.At(order) - at.Number) < 0.5;
                if (keeps)
                    cell.Given.Identify(1);
                cell.Given.Add(
                    ScorePartKind.Neighbours,
                    keeps ? 1 : -1.6,
                    $"its address {(keeps ? "follows its neighbours'" : "breaks the series of its neighbours")}, which come at a step "
                        + $"of {(line.Step / 16).ToString("0.##", CultureInfo.InvariantCulture)}"
                );
                changed |= !keeps;
            }
        }
        return changed;
    }

    /// <summary>Where no example says how they are called, what few instances of a template have a tag for is called so by chance: a number
    /// of theirs happens to be that of another.</summary>
    /// <returns>True when something was changed by it.</returns>
    private bool Lonely(List<OpenCell> cells)
    {
        var changed = false;
        foreach (
            var column in cells
                .GroupBy(c => (c.Matrix, c.Property.Id))
                .Select(g =>
                    g.Key.Matrix.Examples[g.Key.Id].Count == 0
                        ? [.. g.Where(c => c.Given?.By.Any(b => b is { IsBeside: true }) != true)]
                        : g.Where(c => c.Given is not { } its || (its.By.All(b => b is null) && !_scorer.SaysItAll(c, its.Position)))
                            .ToArray()
                )
                .Where(c => c.Length >= FewestTogether)
        )
        {
            var given = column.Where(c => c.Given?.Certainty >= ProposalQuestion.DefaultThreshold).ToArray();
            if (given.Length == 0 || given.Length >= Together * column.Length)
                continue;
            var isAlone = given.Length <= Math.Max(FewestTogether, Few * column.Length);
            // What is called nearly so beside it is no better; what an example's rule names is another matter.
            var isShown = column[0].Matrix.Examples[column[0].Property.Id].Count > 0;
            foreach (var candidate in column.SelectMany(c => c.Candidates).Where(c => !isShown || c.By.All(b => b is null)))
                candidate.Add(
                    ScorePartKind.Neighbours,
                    isAlone ? Math.Min(-2, MostAlone - candidate.Odds) : -2,
                    $"only {given.Length} of {column.Length} instances have a tag called so"
                );
            changed = true;
        }
        return changed;
    }

    /// <summary>Whether something that a person has bound or kept stands behind what a cell was given.</summary>
    private static bool IsShown(OpenCell cell) => cell.Given?.By.Any(b => b is { IsSupposed: false }) ?? false;

    private (long Controller, long Number)? AddressOf(int position) =>
        _lexicon.Tags[position] is { Address: ModbusAddress at } tag
            ? (tag.ControllerId * 4096 + (at.UnitId ?? 256) * 4 + (int)at.Area, at.Offset * 16L + (at.Bit ?? 0))
            : null;

    private static long? OrderOf(InstanceNames instance) =>
        instance.NumberOf(PlaceRef.Self, NumberKind.Number) ?? instance.NumberOf(PlaceRef.Self, NumberKind.Order);

    private ImmutableArray<Proposal> Answer(List<OpenCell> cells)
    {
        var holder = new Dictionary<(int, Slice?), OpenCell>();
        foreach (var cell in cells)
            if (cell.Given is { } given)
                holder[(given.Position, given.Slice)] = cell;
        var wanting = cells
            .SelectMany(c => c.Candidates.Where(k => !k.IsMisfit).Select(k => (Cell: c, Candidate: k)))
            .GroupBy(w => (w.Candidate.Position, w.Candidate.Slice))
            .Where(g => g.Skip(1).Any())
            .ToDictionary(g => g.Key, g => g.ToArray());
        var rivals = cells.Select(c => c.Given is null ? null : RivalOf(c, holder, wanting)).ToArray();
        foreach (var cell in cells)
            Divide(cell, wanting);
        var swapped = Swapped(cells);
        var proposals = ImmutableArray.CreateBuilder<Proposal>(cells.Count);
        for (var i = 0; i < cells.Count; i++)
            proposals.Add(AnswerFor(cells[i], rivals[i] ?? swapped.GetValueOrDefault(cells[i]), holder));
        return proposals.MoveToImmutable();
    }

    /// <summary>Where several tags are as likely for a cell as the one it was given, or several cells for the tag, one of them is right at
    /// most.</summary>
    private static void Divide(OpenCell cell, Dictionary<(int, Slice?), (OpenCell Cell, Candidate Candidate)[]> wanting)
    {
        if (cell.Given is not { Alone: < ProposalQuestion.DefaultThreshold } given)
            return;
        bool IsAsLikely(Candidate other) => !other.IsMisfit && given.Odds - other.Odds < AsLikely;
        var tags = cell.Candidates.Count(IsAsLikely);
        var owners = wanting.TryGetValue((given.Position, given.Slice), out var wants) ? wants.Count(w => IsAsLikely(w.Candidate)) : 1;
        given.Share = 1.0 / Math.Max(1, Math.Max(tags, owners));
    }

    private const double AsLikely = 0.1;

    /// <summary>What fits nearly as well: another free tag for the cell, or giving two cells each other's tags.</summary>
    private string? RivalOf(
        OpenCell cell,
        Dictionary<(int, Slice?), OpenCell> holder,
        Dictionary<(int, Slice?), (OpenCell Cell, Candidate Candidate)[]> wanting
    )
    {
        var given = cell.Given!;
        foreach (var other in cell.Candidates)
        {
            if (other == given || other.IsMisfit)
                continue;
            if (other.Position != given.Position && IsNamedBetter(cell, other))
                return $"{NameOf(other)} fits as well.";
            if (!holder.TryGetValue((other.Position, other.Slice), out var owner))
            {
                if (given.Odds - other.Odds < Margin && !(other.Slice is not null && other.Position == given.Position))
                    return $"{NameOf(other)} fits as well.";
                continue;
            }
            var back = owner.Candidates.FirstOrDefault(k => k.Position == given.Position && k.Slice == given.Slice);
            var instead = back?.Odds
                ?? owner
                    .Candidates.Where(k => !k.IsMisfit && k != owner.Given && !holder.ContainsKey((k.Position, k.Slice)))
                    .Select(k => k.Odds)
                    .DefaultIfEmpty(LowestOdds)
                    .Max();
            if (given.Odds + owner.Given!.Odds - other.Odds - instead < Margin)
                return $"{NameOf(other)} fits as well; {Says(owner, cell)} wants it too.";
        }
        if (wanting.TryGetValue((given.Position, given.Slice), out var wants))
            foreach (var (other, candidate) in wants)
                if (other != cell && other.Given is null && given.Odds - candidate.Odds < Margin)
                    return $"{Says(other, cell)} wants {NameOf(given)} just as much.";
        return null;
    }

    /// <summary>What another rule made from the same example names instead, where it may be meant nearly as well and nothing else tells
    /// which.</summary>
    /// <param name="least">From what part of the likelihood on it is said.</param>
    private string? AnotherWay(OpenCell cell, Candidate given, double least)
    {
        string? doubt = null;
        foreach (var rule in given.By)
        {
            if (rule is null)
                continue;
            if (rule.IsKept)
                return null;
            var (meant, other, likeliest) = (0.0, 0.0, (RuleGuess?)null);
            foreach (var rival in cell.Matrix.Guesses[cell.Property.Id])
            {
                if (rival.Face != rule.Face || rival.Example != rule.Example || rival.IsKept || rival.Share < LeastShare)
                    continue;
                if (rival == rule || rival.Names(cell.Instance, _lexicon, given.Position, given.Slice))
                    meant += rival.Share;
                else if (OtherWeight(rival, cell, given) is > 0 and var weight)
                {
                    other += weight;
                    if (likeliest is null || rival.Share > likeliest.Share)
                        likeliest = rival;
                }
            }
            if (likeliest is null || other < least * (meant + other))
                return null;
            var reads = other < AboutAsWell * (meant + other) ? "may be meant and not" : "fits about as well as";
            doubt ??= $"{likeliest.Pattern} {reads} {rule.Pattern}, and {Instead(likeliest, cell, given)}";
        }
        return doubt;
    }

    /// <summary>What a rule does with a tag that another gives to a cell, and what to bind so that one is told from the other.</summary>
    private string Instead(RuleGuess rule, OpenCell cell, Candidate given)
    {
        var key = new KeyWriter(stackalloc char[256]);
        rule.Write(cell.Instance, ref key, out _);
        var named = $"{rule.Pattern.TextFor(cell.Instance)}{rule.Pattern.SliceFor(cell.Instance)}";
        if (_lexicon.Has(rule.Face, key.Key))
            return $"names {named} here; bind one by hand where they differ.";
        return rule.Claimed.TryGetValue(given.Position, out var owner) && owner != cell.Instance
            ? $"gives {NameOf(given)} to {Called(owner, cell.Instance)}; bind {Called(owner, cell.Instance)} or this by hand."
            : $"names {named} here, which is not there; bind this by hand.";
    }

    /// <summary>How much it means that a rule names something else for a cell: nothing where that cannot be, less where other things speak
    /// for what was given.</summary>
    private double OtherWeight(RuleGuess rule, OpenCell cell, Candidate given)
    {
        var key = new KeyWriter(stackalloc char[256]);
        rule.Write(cell.Instance, ref key, out var whole);
        if (!whole)
            return 0;
        var slice = rule.Pattern.SliceFor(cell.Instance);
        var weight = rule.Share;
        double Beside(Candidate c) => c.Parts.Where(p => p.Kind != ScorePartKind.Rule).Sum(p => p.Weight);
        var (isThere, most) = (false, (double?)null);
        // Of several called so, the one that nothing speaks against.
        foreach (var position in _lexicon.With(rule.Face, key.Key))
        {
            if (_controllers?.IsOthers(cell.Instance, _lexicon.Tags[position].ControllerId) == true)
                continue;
            if (cell.Candidates.FirstOrDefault(c => c.Position == position && c.Slice == slice) is { } its)
                most = Math.Max(most ?? 0, its.IsMisfit ? 0 : weight * Math.Exp(Beside(its) - Beside(given)));
            isThere |= _used.IsFree(position, slice);
        }
        if (most is { } known)
            return known;
        // What is not there is seldom what is meant, and not at all where nothing is called so; unless what was given would be another's.
        return isThere || rule.Claimed.ContainsKey(given.Position) ? weight : weight * Lacks * rule.ShareNear(cell.Instance);
    }

    private const double LeastShare = 0.002;
    private const double MostDoubt = 0.04;
    private const double AboutAsWell = 0.3;
    private const double Lacks = 0.2;

    /// <summary>Whether a rule that is believed more than those that name what the cell was given names another tag for it, one that
    /// nothing speaks against.</summary>
    private static bool IsNamedBetter(OpenCell cell, Candidate other)
    {
        double By(Candidate c) => c.By.Max(g => g?.StrengthFor(cell.Instance) ?? 0);
        return other.Against is null && By(other) is >= FairRule and var its && its > By(cell.Given!);
    }

    /// <summary>Pairs in one instance whose values lie in each other's range and not in their own.</summary>
    private Dictionary<OpenCell, string> Swapped(List<OpenCell> cells)
    {
        var found = new Dictionary<OpenCell, string>();
        foreach (var instance in cells.Where(c => c.Given is not null).GroupBy(c => c.Instance))
        {
            var valued = instance.Select(c => (Cell: c, Value: _values.ValueOf(c, c.Given!))).Where(v => v.Value is not null).ToArray();
            foreach (var (one, value) in valued)
            foreach (var (other, its) in valued)
                if (one != other && _values.LieSwapped(one.Property, value!.Value, other.Property, its!.Value))
                    found[one] =
                        $"Its value lies in the range of {other.Property.Name}, whose value lies in its range; the two look swapped.";
        }
        return found;
    }

    private Proposal AnswerFor(OpenCell cell, string? rival, Dictionary<(int, Slice?), OpenCell> holder)
    {
        Proposal As(ProposalKind kind, Candidate? candidate, string? reason) =>
            new(
                cell.Instance.Instance.Id,
                cell.Property.Id,
                kind,
                candidate is null ? null : _lexicon.Tags[candidate.Position].Id,
                candidate?.Slice,
                candidate is null ? 0 : Math.Round(candidate.Certainty, 3),
                candidate is null ? [] : [.. candidate.Parts.OrderByDescending(p => Math.Abs(p.Weight))],
                reason
            );
        var named = cell
            .Candidates.Where(c =>
                c is { Against: not null, IsElsewhere: false }
                && c.By.Any(g => g?.StrengthFor(cell.Instance) >= (c.IsMisfit ? FairRule : StrongRule))
            )
            .MaxBy(c => c.By.Max(g => g?.StrengthFor(cell.Instance) ?? 0));
        // Several that would each be certain enough alone contradict each other, however little is left to each of them.
        if (cell.Given is { } given && given.Alone >= _question.Threshold)
        {
            if (given.Against is { } against)
                return As(ProposalKind.Clash, given, against);
            rival ??= AnotherWay(cell, given, MostDoubt);
            if (rival is not null)
            {
                given.Add(ScorePartKind.Rival, -Math.Max(0, given.Odds), rival);
                return As(ProposalKind.Clash, given, rival);
            }
            if (given.Certainty >= _question.Threshold)
                return As(ProposalKind.Proposed, given, null);
        }
        if (named is not null)
            return As(ProposalKind.Clash, named, named.Against);
        if (cell.Given is { Alone: >= 0.3 } weak)
            return As(
                ProposalKind.Open,
                weak,
                string.Create(CultureInfo.InvariantCulture, $"{NameOf(weak)} comes nearest, with a certainty of {weak.Certainty:0.00}")
                    + $"{AgainstIt(weak)}.{AsLikelyAs(cell, weak, rival)}"
            );
        return As(ProposalKind.Open, null, Lacking(cell, holder) ?? Perhaps(cell) ?? PassedOver(cell) ?? "No tag speaks of it.");
    }

    /// <summary>What a way to read what is bound gives a cell that is not likely enough, or is less so than another and leaves nothing over
    /// either; null where none gives it a free tag.</summary>
    private string? Perhaps(OpenCell cell)
    {
        Span<char> room = stackalloc char[256];
        foreach (
            var rule in cell
                .Matrix.Guesses[cell.Property.Id]
                .Where(g => g is { IsSupposed: false } and ({ Share: >= LeastPerhaps } or { NamesAll: true }))
                .OrderByDescending(g => g.Share)
        )
        {
            var key = new KeyWriter(room);
            rule.Write(cell.Instance, ref key, out var whole);
            var slice = whole ? rule.Pattern.SliceFor(cell.Instance) : null;
            if (!whole || (rule.Pattern.NamesPart && slice is null))
                continue;
            foreach (var position in _lexicon.With(rule.Face, key.Key))
                if (_used.IsFree(position, slice) && !cell.Instance.Instance.Refuses(cell.Property.Id, _lexicon.Tags[position].Id))
                    return $"{_lexicon.Tags[position].Name}{slice} may be meant, as {rule.Pattern} says; what is bound is read otherwise "
                        + "as well, or too few are called so. Bind it by hand if it is right.";
        }
        return null;
    }

    private const double LeastPerhaps = 0.1;

    /// <summary>What speaks of a cell and was passed over as a limit or the like of what is not there; null where nothing was.</summary>
    private string? PassedOver(OpenCell cell) =>
        cell.Candidates.Where(c => c is { IsAppended: true, IsMisfit: false }).MaxBy(c => c.Odds) is { } its
            ? $"{NameOf(its)} was passed over: {its.Against}"
            : null;

    /// <summary>Who it shares its certainty with, or what other way there is to read what is bound.</summary>
    private string AsLikelyAs(OpenCell cell, Candidate candidate, string? rival) =>
        candidate.Share < 1 && rival is not null ? $" {rival}"
        : AnotherWay(cell, candidate, AboutAsWell) is { } doubt ? $" {doubt}"
        : "";

    /// <summary>What speaks most against a tag, where that is much.</summary>
    private static string AgainstIt(Candidate candidate) =>
        candidate.Parts.Where(p => p.Weight <= MuchAgainst).MinBy(p => p.Weight) is { } part ? $": {part.Words.TrimEnd('.')}" : "";

    private const double MuchAgainst = -1.5;

    /// <summary>What became of the tag that the best rule names for a cell: it is not there, has gone elsewhere, was refused, or does not
    /// look right; null where no rule that is believed says anything.</summary>
    private string? Lacking(OpenCell cell, Dictionary<(int, Slice?), OpenCell> holder)
    {
        if (
            cell.Matrix.Best(cell.Property.Id, TagFace.Name) is not { Strength: >= StrongRule } rule
            || rule.Pattern.TextFor(cell.Instance) is not { } expected
        )
            return null;
        var key = new KeyWriter(stackalloc char[256]);
        rule.Write(cell.Instance, ref key, out var whole);
        if (!whole)
            return null;
        var slice = rule.Pattern.SliceFor(cell.Instance);
        var there = _lexicon.With(TagFace.Name, key.Key).ToArray();
        if (there.Length == 0)
            return $"There is no tag {expected}.";
        foreach (var position in there)
            if (_used.By(position, slice) is { } by)
                return $"{expected} already feeds {_model.Index.PathOf(by.EquipmentId)}.";
            else if (holder.TryGetValue((position, slice), out var other) && other != cell)
                return $"{expected} suits {_model.Index.PathOf(other.Instance.Instance.Id)} {other.Property.Name} better.";
            else if (cell.Instance.Instance.Refuses(cell.Property.Id, _lexicon.Tags[position].Id))
                return $"{expected} was refused here.";
        return $"{expected} is there, and does not look like {cell.Property.Name} of {cell.Instance.Instance.Name}.";
    }

    private string NameOf(Candidate candidate) => $"{_lexicon.Tags[candidate.Position].Name}{candidate.Slice}";

    /// <summary>A cell in words; one whose unit is called as that of the cell it is told to is said with its place.</summary>
    private string Says(OpenCell cell, OpenCell to) => $"{Called(cell.Instance, to.Instance)} {cell.Property.Name}";

    private string Called(InstanceNames instance, InstanceNames to) =>
        instance != to && instance.Instance.Name == to.Instance.Name ? _model.Index.PathOf(instance.Instance.Id) : instance.Instance.Name;

    private static IEnumerable<LearnedRule> RulesOf(TemplateMatrix matrix) =>
        from property in matrix.Properties
        from face in Enum.GetValues<TagFace>()
        let best = matrix.Best(property.Id, face)
        where best is { Strength: > 0.3 } or { IsKept: true }
        select new LearnedRule(
            matrix.Template.Id,
            property.Id,
            face,
            best.Pattern,
            Math.Round(best.Strength, 3),
            best.Hits,
            best.Of,
            best.IsKept,
            best.IsSupposed,
            best.IsSupposed || best.Example is null ? best.Agreed : best.Agreed + 1
        );
}
