using System.Collections.Immutable;
using System.Globalization;
using Allowance.Core.Games;
using Allowance.Core.Materials;
using Allowance.Core.Numbers;
using Allowance.Core.Setups;
using Allowance.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Allowance.Web.Pages.Cupboard;

/// <summary>The cupboard: what there is to play with, who must be kept from it, and what the games can be played with.</summary>
public sealed class IndexModel(Household household, Things things) : PageModel
{
    public const int LongestName = 40, MostOfAThing = 2000, LargestSide = 2000, MostColours = 8;

    public Core.Materials.Cupboard Cupboard { get; private set; } = new([]);

    public Household Household => household;

    /// <summary>The thing in the form; a new one has no id.</summary>
    public Material Edited { get; private set; } = new(0, "", Use.Pieces, 1, default);

    public string Problem { get; private set; } = "";

    /// <summary>What was typed, where it could not be kept.</summary>
    private string? Typed(string field) => Problem.Length > 0 && Request.HasFormContentType ? Request.Form[field].ToString() : null;

    public string Field(string field, string otherwise) => Typed(field) ?? otherwise;

    /// <summary>Who in the home must not get at small things.</summary>
    public IReadOnlyList<Near> Small => [.. household.People.Select(p => new Near(p.Name, p.AgeOn(household.Today), p.Kind == PlayerKind.GrownUp, false, p.Mouths)).Where(n => n.NeedsLargeThings)];

    /// <summary>Every game as it stands on the bench, with what it needs from here.</summary>
    public IReadOnlyList<(FrameData Game, ImmutableArray<Fetched> Fetched)> Games { get; private set; } = [];

    public void OnGet(long? edit) => Show(edit);

    private void Show(long? edit)
    {
        Cupboard = household.Cupboard;
        Edited = Cupboard.Materials.FirstOrDefault(t => t.Id == edit) ?? Edited;
        var child = household.Children is [var first, ..] ? household.SeatOf(first) : Seat.Child("", 5);
        Games = [.. Catalogue.All.Select(f => (f.Data, Cupboard.Fetch(f.Needs(Setup.Default(f.Data, child)))))];
    }

    public IActionResult OnPostPut(long id, string? name, Use use, string? count, Shape shape, string? a, string? b, string? c, string? faces, string? missing, string? colours, bool food)
    {
        string called = (name ?? "").Trim();
        var size = new Size(shape, Millimetres(a), Millimetres(b), Millimetres(c));
        Die? die = null;
        var gaps = ImmutableSortedDictionary<string, int>.Empty;
        if (called.Length is 0 or > LongestName) Refuse($"A thing has a name of up to {LongestName} letters.");
        if (!int.TryParse(count, out int many) || many is < 0 or > MostOfAThing) Refuse($"How many there are is a whole number from 0 to {MostOfAThing}.");
        if (shape != Shape.Unknown && Sides(shape).Any(side => side(size) is not (> 0 and <= LargestSide))) Refuse($"Each side is from 0.1 to {LargestSide} millimetres; choose “not measured” where nobody knows.");
        if (use is Use.Dice or Use.Spinners)
        {
            var problems = new List<Problem>();
            die = (new DiceKind(1).FromLink((faces ?? "").Trim().Replace(',', '.').Replace(" ", ""), "", problems) as DiceValue)?.Dice.All[0];
            if (die is null) Refuse("A die or spinner is written d6, 0-5, or with its faces and dots between, as 1.1.2.2.3.3.");
        }
        if (use == Use.Packs)
            foreach (string gap in (missing ?? "").Split([',', ';'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            {
                var pair = gap.Split([' ', '.', ':', '×'], StringSplitOptions.RemoveEmptyEntries);
                if (pair.Length == 2 && Deck.RankIndex(pair[0]) >= 0 && int.TryParse(pair[1], out int cards) && cards is >= 0 and <= 4) gaps = gaps.SetItem(pair[0], cards);
                else Refuse("Missing cards are written by rank and how many, for example 6 1, Q 2.");
            }
        var byColour = ImmutableSortedDictionary<string, int>.Empty;
        if (use == Use.Pieces && !string.IsNullOrWhiteSpace(colours))
        {
            if (new ColoursKind(MostColours, MostOfAThing).FromLink(colours.Trim(), "", []) is ColoursValue value) byColour = value.Colours.ToImmutableSortedDictionary(c => c.Colour, c => c.Count);
            else Refuse($"Colours are written with how many there are of each, at most {MostColours}, for example red 20, blue 20.");
            if (byColour.Values.Sum() is var all && all > many) Refuse($"Of all colours together there are {all}, and {many} things.");
        }
        if (Problem.Length == 0)
        {
            things.Put(new(id, called, use, many, shape == Shape.Unknown ? default : size, die, gaps.RemoveRange(gaps.Where(g => g.Value == 0).Select(g => g.Key)), food, byColour), Request.PostId());
            return Redirect("/cupboard");
        }
        Show(id);
        Edited = Edited with { Id = id, Name = called, Use = use, Size = Edited.Size with { Shape = shape }, IsFood = food };
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private void Refuse(string problem) => Problem = Problem.Length > 0 ? Problem : problem + " Nothing was changed.";

    private static double Millimetres(string? text) => double.TryParse((text ?? "").Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out double mm) ? mm : 0;

    private static IEnumerable<Func<Size, double>> Sides(Shape shape) => new Func<Size, double>[] { s => s.A, s => s.B, s => s.C }.Take(shape == Shape.Ball ? 1 : shape == Shape.Round ? 2 : 3);

    public IActionResult OnPostRemove(long id)
    {
        things.Remove(id);
        return Redirect("/cupboard");
    }

    public static string SizeSays(Material thing) => thing.Size.Shape switch
    {
        Shape.Ball => $"ball, {thing.Size.A:0.#} mm across",
        Shape.Round => $"{thing.Size.A:0.#} mm across, {thing.Size.B:0.#} mm long",
        Shape.Flat => $"{thing.Size.A:0.#} × {thing.Size.B:0.#} × {thing.Size.C:0.#} mm",
        _ => "not measured",
    };

    public static string ShapeSays(Shape shape) => shape switch
    {
        Shape.Ball => "a ball: across", Shape.Round => "round: across, length", Shape.Flat => "three sides", _ => "not measured",
    };

    /// <summary>The worst of what a game needs.</summary>
    public static Standing Worst(ImmutableArray<Fetched> fetched) => fetched.IsEmpty ? Standing.There : fetched.Max(f => f.Standing);

    public static string Says(Standing standing) => standing switch
    {
        Standing.There => "all there", Standing.StandsIn => "with a stand-in", Standing.ToMake => "something to make first", _ => "something is missing",
    };
}
