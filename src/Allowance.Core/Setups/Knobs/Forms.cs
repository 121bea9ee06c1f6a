using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using Allowance.Core.Forms;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;

namespace Allowance.Core.Setups;

/// <summary>Several forms, in the order of the table of forms.</summary>
public sealed record FormsValue : KnobValue
{
    public FormsValue(IEnumerable<Form> forms) => Forms = [.. forms.Distinct().Order()];

    public ImmutableList<Form> Forms { get; }

    public override string ToLink() => string.Join('.', Forms.Select(f => f.Id()));

    public override JsonNode ToJson() => new JsonArray([.. Forms.Select(f => (JsonNode)f.Id())]);

    public override string Says() => Words.List(Forms.Select(f => f.Facts().Label));

    public bool Equals(FormsValue? other) => other is not null && Forms.SequenceEqual(other.Forms);

    public override int GetHashCode() => Forms.Aggregate(Forms.Count, HashCode.Combine);
}

/// <summary>One or several forms.</summary>
public sealed record FormsKind(IReadOnlyList<Form> Offered) : KnobKind
{
    public override string Says => "a list of " + string.Join(", ", Offered.Select(f => f.Id()));

    public override JsonObject Schema => Schemas.List(Schemas.OneOf(Offered.Select(f => f.Id())), 1, Offered.Count);

    public override Field Field => new TickField([.. Offered.Select(f => (f.Id(), f.Facts().Label))], (value, id) => ((FormsValue)value).Forms.Exists(f => f.Id() == id));

    public override KnobValue Sample(ref Rng rng)
    {
        var forms = new List<Form>();
        for (int n = 1 + rng.Below(3); n > 0; n--) forms.Add(Offered[rng.Below(Offered.Count)]);
        return new FormsValue(forms);
    }

    public override KnobValue? FromJson(JsonElement json, string path, List<Problem> problems) => json.ValueKind switch
    {
        JsonValueKind.Array => Check([.. json.EnumerateArray().Select(f => f.ValueKind == JsonValueKind.String ? f.GetString()! : f.GetRawText())], path, problems),
        JsonValueKind.String => Check([json.GetString()!], path, problems),
        _ => Check([], path, problems),
    };

    public override KnobValue? FromLink(string text, string path, List<Problem> problems) => Check(text.Split(['.', ','], StringSplitOptions.RemoveEmptyEntries), path, problems);

    private KnobValue? Check(IReadOnlyList<string> ids, string path, List<Problem> problems)
    {
        if (ids.Count == 0) return Refuse(problems, path, $"Here stands {Says}; at least one.", new JsonArray(Offered[0].Id()));
        foreach (string id in ids)
            if (FormTable.Find(id) is not { } form || !Offered.Contains(form))
                return Refuse(problems, path, $"\"{Closest.Shorten(id)}\" is not one of: {string.Join(", ", Offered.Select(f => f.Id()))}.", new JsonArray(Closest.To(id, Offered.Select(f => f.Id()))));
        return new FormsValue(ids.Select(id => FormTable.Find(id)!.Value));
    }

    /// <summary>More forms than these take long to get ready, and are many new things at once.</summary>
    private const int MostTogether = 3;

    /// <summary>In place of one form each of the others; of several one fewer; and the next one beside them.</summary>
    public override IEnumerable<KnobValue> Neighbours(KnobValue value)
    {
        var forms = ((FormsValue)value).Forms;
        if (forms.Count == 1)
            foreach (var other in Offered.Except(forms)) yield return new FormsValue([other]);
        else
            foreach (var left in new[] { forms[^1], forms[0] }) yield return new FormsValue(forms.Remove(left));
        if (forms.Count < MostTogether && Offered.Except(forms).Select(f => (Form?)f).FirstOrDefault() is { } next) yield return new FormsValue(forms.Append(next));
    }
}
