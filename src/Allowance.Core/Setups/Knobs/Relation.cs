using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>How the number that answers belongs to the one that is called.</summary>
public enum Relation { Same, Plus, Minus, Partner, Double, ToGo }

/// <param name="By">How many more or fewer, or the target of partners and of how far it is; 0 for the others.</param>
public sealed record RelationValue(Relation Relation, int By = 0) : KnobValue
{
    private bool HasNumber => Relation is Relation.Plus or Relation.Minus or Relation.Partner or Relation.ToGo;

    /// <summary>The number that is answered by this one; null where there is none.</summary>
    public int? CalledBy(int answer) => Relation switch
    {
        Relation.Plus => answer >= By ? answer - By : null,
        Relation.Minus => answer + By,
        Relation.Partner => answer <= By ? By - answer : null,
        Relation.Double => answer % 2 == 0 ? answer / 2 : null,
        _ => answer,
    };

    /// <summary>The number that answers this one; null where there is none.</summary>
    public int? AnswerTo(int called) => Relation switch
    {
        Relation.Plus => called + By,
        Relation.Minus => called >= By ? called - By : null,
        Relation.Partner => called <= By ? By - called : null,
        Relation.Double => 2 * called,
        Relation.ToGo => Math.Abs(By - called),
        _ => called,
    };

    /// <summary>What the one who looks for the answer is told.</summary>
    public string Asks => Relation switch
    {
        Relation.Plus => By == 1 ? "Who has one more?" : $"Who has {By} more?",
        Relation.Minus => By == 1 ? "Who has one fewer?" : $"Who has {By} fewer?",
        Relation.Partner => $"Who has the number that makes {By} with it?",
        Relation.Double => "Who has the double?",
        _ => "Who has it?",
    };

    /// <summary>What answers a number that is called: "2 more than 6".</summary>
    /// <param name="called">The number, or "this" where it has to be looked at.</param>
    public string AnswerInWords(string called) => Relation switch
    {
        Relation.Plus => $"{(By == 1 ? "one" : $"{By}")} more than {called}",
        Relation.Minus => $"{(By == 1 ? "one" : $"{By}")} fewer than {called}",
        Relation.Partner => $"what makes {By} with {called}",
        Relation.Double => $"twice {called}",
        _ => called == "this" ? "this many" : called,
    };

    /// <summary>Which cell of a board a roll goes to, as a question to whoever rolled.</summary>
    public string AsksCell => Relation switch
    {
        Relation.Plus => By == 1 ? "What is one more?" : $"What is {By} more?",
        Relation.Minus => By == 1 ? "What is one fewer?" : $"What is {By} fewer?",
        Relation.Partner => $"What makes {By} with it?",
        Relation.Double => "What is the double?",
        Relation.ToGo => $"How far is it from {By}?",
        _ => "How many?",
    };

    /// <summary>Of partners: how many of these numbers have none, in words; null where all have one.</summary>
    public string? WithoutPartner(IEnumerable<int> numbers) => Relation != Relation.Partner ? null : numbers.Count(n => n > By) switch
    {
        0 => null,
        1 => $"One of these numbers has no partner that makes {By}.",
        var more => $"{more} of these numbers have no partner that makes {By}.",
    };

    public override string ToLink() => (Relation == Relation.ToGo ? "toGo" : Relation.ToString().ToLowerInvariant()) + (HasNumber ? $":{By}" : "");

    public override JsonNode ToJson() => JsonValue.Create(ToLink());

    public override string Says() => Relation switch
    {
        Relation.Plus => $"{By} more",
        Relation.Minus => $"{By} fewer",
        Relation.Partner => $"the partner to {By}",
        Relation.ToGo => $"how far it is to {By}",
        Relation.Double => "the double",
        _ => "the same number",
    };
}

/// <summary><c>same</c>, <c>plus:k</c>, <c>minus:k</c>, <c>partner:T</c> or <c>double</c>.</summary>
/// <param name="WithToGo">Also <c>toGo:T</c>, the difference to T, which several numbers can have.</param>
public sealed record RelationKind(bool WithToGo = false) : KnobKind
{
    public const int Most = 100;

    public override string Says => $"same, plus:k, minus:k, partner:T, double{(WithToGo ? ", toGo:T" : "")}; k and T 1–{Most}";

    public override JsonObject Schema => new() { ["type"] = "string", ["pattern"] = $"^(same|double|(plus|minus|partner{(WithToGo ? "|toGo" : "")}):[0-9]+)$" };

    public override Field Field => new PickField(WithToGo ? [.. Usual, .. new[] { 10, 20 }.Select(t => new RelationValue(Relation.ToGo, t))] : Usual);

    public override KnobValue Sample(ref Rng rng) => rng.Below(WithToGo ? 3 : 2) switch
    {
        0 => Usual[rng.Below(Usual.Count)],
        1 => new RelationValue(Relation.Partner, 1 + rng.Below(20)),
        _ => new RelationValue(Relation.ToGo, 1 + rng.Below(20)),
    };

    /// <summary>What the bench offers.</summary>
    public static IReadOnlyList<RelationValue> Usual { get; } =
    [
        new(Relation.Same), .. new[] { 1, 2, 3, 5, 10 }.Select(k => new RelationValue(Relation.Plus, k)), .. new[] { 1, 2, 3, 5, 10 }.Select(k => new RelationValue(Relation.Minus, k)),
        .. new[] { 5, 6, 7, 8, 9, 10, 11, 12, 20 }.Select(t => new RelationValue(Relation.Partner, t)), new(Relation.Double),
    ];

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) =>
        FromLink(json.ValueKind == JsonValueKind.String ? json.GetString()! : json.GetRawText(), path, problems);

    public override KnobValue? FromLink(string text, string path, List<Problem> problems)
    {
        var parts = text.Split(':');
        bool known = !int.TryParse(parts[0], out _) && Enum.TryParse<Relation>(parts[0], true, out var named) && (WithToGo || named != Relation.ToGo);
        if (!known) return Refuse(problems, path, $"\"{Closest.Shorten(text)}\" is not one of: {Says}.", Closest.To(parts[0], Enum.GetNames<Relation>().Select(n => n.ToLowerInvariant())) is var near && near is "plus" or "minus" ? $"{near}:1" : near is "partner" or "togo" ? "partner:10" : near);
        var relation = Enum.Parse<Relation>(parts[0], true);
        if (relation is Relation.Same or Relation.Double) return parts.Length == 1 ? new RelationValue(relation) : Refuse(problems, path, $"{parts[0]} takes no number.", parts[0]);
        int usual = relation is Relation.Partner or Relation.ToGo ? 10 : 1;
        if (parts.Length != 2 || !int.TryParse(parts[1], out int by)) return Refuse(problems, path, $"After {parts[0]} stands a number, as in {parts[0]}:{usual}.", $"{parts[0].ToLowerInvariant()}:{usual}");
        return by is >= 1 and <= Most ? new RelationValue(relation, by) : Refuse(problems, path, $"{by} is outside 1 to {Most}.", $"{parts[0].ToLowerInvariant()}:{Math.Clamp(by, 1, Most)}");
    }
}
