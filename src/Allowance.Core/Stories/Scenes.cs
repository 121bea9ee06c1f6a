namespace Allowance.Core.Stories;

/// <summary>
/// What number stories are about: forty little scenes of each kind, whole sentences with places for people and for so many things. They hold with
/// any things, and with none, one or many of them: the number always comes as what somebody does something with.
/// </summary>
/// <remarks>
/// <c>{who}</c> and <c>{other}</c> are people; <c>{a}</c> and <c>{b}</c> so many things, <c>{more}</c> so many more, <c>{of}</c> so many of them.
/// </remarks>
internal static class Scenes
{
    /// <summary>How it begins, and what comes to it.</summary>
    public static IReadOnlyList<string[]> Joining { get; } = Read("""
        {who} finds {a} under the old tree.|Behind the hedge {who} finds {more}.
        {who} has {a} in a basket.|{other} puts {more} into the basket.
        {who} lays {a} on the table.|Then {other} comes and lays {more} there.
        {who} takes {a} to the sandpit.|{other} brings {more}.
        There is a tin, and {who} puts {a} into it.|In the evening {who} puts in {more}.
        {who} carries {a} up the stairs.|Then {who} goes down again and fetches {more}.
        {who} gets {a} from grandmother.|From grandfather {who} gets {more}.
        On Monday {who} collects {a}.|On Tuesday {who} collects {more}.
        {who} has {a} in one pocket.|On the path {who} finds {more}.
        {who} washes {a} in the sink.|{other} hands over {more} to wash.
        {who} builds a wall with {a}.|Then {who} fetches {more} for the wall.
        {who} hides {a} behind the curtain.|{other} hides {more} there.
        {who} counts {a} on the window sill.|{other} adds {more}.
        {who} draws {a} on a sheet of paper.|Then {who} draws {more}.
        In the morning {who} wins {a}.|In the afternoon {who} wins {more}.
        {who} sets out {a} along the path.|{other} goes on with {more}.
        {who} packs {a} for the journey.|At the door {who} packs {more}.
        {who} sees {a} in the shop window.|The shopkeeper puts out {more}.
        {who} swaps a picture for {a}.|For another picture {who} gets {more}.
        {who} has {a} in a paper bag.|{other} drops in {more}.
        {who} pulls {a} out from under the sofa.|With a broom {who} gets out {more}.
        {who} digs {a} out of the sand.|A little deeper {who} finds {more}.
        {who} loads {a} onto the cart.|At the gate {who} loads on {more}.
        {who} borrows {a} from {other}.|The next day {who} borrows {more}.
        {who} makes a tower of {a}.|{other} puts {more} on top.
        {who} takes {a} out of the drawer.|Then {who} takes out {more}.
        {who} floats {a} in the bath.|{other} lets {more} float there.
        {who} threads {a} on a string.|After supper {who} threads on {more}.
        {who} brings {a} home from the woods.|From the stream {who} brings {more}.
        {who} puts {a} on the shelf.|{other} finds room for {more}.
        {who} holds {a} in one hand.|{other} gives {who} {more}.
        {who} gets {a} for helping in the garden.|For helping in the kitchen {who} gets {more}.
        {who} makes a ring of {a} on the rug.|{other} makes the ring larger with {more}.
        {who} feeds the toy bear {a}.|The bear is still hungry and gets {more}.
        {who} puts {a} on the scales.|{other} puts on {more}.
        A parcel comes, and {who} unpacks {a}.|At the bottom {who} finds {more}.
        {who} tidies away {a}.|Under the bed {who} finds {more}.
        {who} rolls {a} down the slide.|Then {who} rolls down {more}.
        {who} trades with the neighbour and gets {a}.|The neighbour gives {who} {more}.
        {who} wraps up {a} as a present.|{other} has {more} to put in.
        """);

    /// <summary>How it begins, and what goes away.</summary>
    public static IReadOnlyList<string[]> Taking { get; } = Read("""
        {who} has {a} in a basket.|On the way home {who} loses {of}.
        {who} lays {a} on the table.|The cat pushes {of} off.
        {who} takes {a} to the sandpit.|{who} buries {of}.
        {who} has {a} in a tin.|{who} gives {of} to {other}.
        {who} carries {a} up the stairs.|{who} drops {of}.
        {who} has {a} in one pocket.|Through a hole {who} loses {of}.
        {who} has {a} on the window sill.|The wind blows {of} down.
        {who} builds a wall with {a}.|{other} takes {of} for a tower.
        {who} has {a} to lend.|{other} borrows {of}.
        {who} draws {a} on a sheet of paper.|{who} rubs out {of}.
        {who} packs {a} for the journey.|At the door {who} unpacks {of}.
        {who} sets out {a} along the path.|{other} picks up {of}.
        {who} has {a} in a paper bag.|The bag tears and drops {of} into the mud.
        {who} loads {a} onto the cart.|At the bend the cart loses {of}.
        {who} makes a tower of {a}.|{other} takes {of} from the top.
        {who} floats {a} in the bath.|After a while the water swallows {of}.
        {who} threads {a} on a string.|The knot comes undone and lets go of {of}.
        {who} puts {a} on the shelf.|The shelf tips and drops {of}.
        {who} holds {a} in both hands.|{who} puts {of} down.
        {who} makes a ring of {a} on the rug.|The dog runs off with {of}.
        {who} has {a} for the birds’ house.|{who} uses {of} for the roof.
        {who} puts {a} on the scales.|{other} takes {of} off.
        {who} wraps up {a} as a present.|{who} keeps {of} back.
        {who} brings {a} to the market.|{who} sells {of}.
        {who} has {a} to trade.|{who} swaps {of} for a picture.
        {who} washes {a}.|{who} hands {of} to {other} to dry.
        {who} hides {a} in the garden.|{other} finds {of}.
        {who} counts {a} before going to bed.|In the night a magpie takes {of}.
        {who} takes {a} on the boat.|A wave sweeps {of} away.
        {who} lines up {a} on the wall.|A ball knocks {of} over the edge.
        {who} has {a} in a jar.|{who} pours {of} out.
        {who} puts {a} under a cloth.|{other} takes {of} from under it.
        {who} takes {a} along to the swings.|{who} forgets {of} there.
        {who} gets {a} from grandmother.|{who} puts {of} away for tomorrow.
        {who} has {a} to play with.|{other} asks for {of} and gets that many.
        {who} sorts {a}.|{who} throws {of} out.
        {who} keeps {a} in the shed.|A mouse carries {of} off.
        {who} puts {a} on the tray.|Somebody bumps into it and sends {of} rolling away.
        {who} brings {a} to the party.|{who} gives {of} away as prizes.
        {who} sticks {a} on a card.|The rain washes {of} off.
        """);

    /// <summary>Both parts, and where each of them is.</summary>
    public static IReadOnlyList<string[]> Parts { get; } = Read("""
        {who} has {a} in one hand and {b} in the other hand.|in the one hand|in the other hand
        {who} keeps {a} on the shelf and {b} in the drawer.|on the shelf|in the drawer
        {who} puts {a} on the red plate and {b} on the blue plate.|on the red plate|on the blue plate
        {who} carries {a} in the basket and {b} in the bag.|in the basket|in the bag
        {who} leaves {a} inside and {b} outside.|inside|outside
        {who} lays {a} under the cloth and {b} beside it.|under the cloth|beside the cloth
        {who} has {a} upstairs and {b} downstairs.|upstairs|downstairs
        {who} puts {a} into the tin and {b} into the jar.|in the tin|in the jar
        {who} sees {a} on the table and {b} on the floor.|on the table|on the floor
        {who} packs {a} into the rucksack and {b} into the pocket.|in the rucksack|in the pocket
        {who} finds {a} at the front of the garden and {b} at the back.|from the front|from the back
        {who} sets {a} on this side of the stream and {b} on the other side.|on this side|on the other side
        {who} has {a} in the left boot and {b} in the right boot.|in the left boot|in the right boot
        {who} draws {a} at the top of the page and {b} at the bottom.|at the top|at the bottom
        {who} puts {a} into the front of the cart and {b} into the back.|in the front|in the back
        {who} builds with {a} today and keeps {b} for tomorrow.|for today|for tomorrow
        {who} gives {a} to the bear and {b} to the doll.|for the bear|for the doll
        {who} lays out {a} in the sun and {b} in the shade.|in the sun|in the shade
        {who} puts {a} in the big box and {b} in the small box.|in the big box|in the small box
        {who} counts {a} among the new ones and {b} among the old ones.|among the new ones|among the old ones
        {who} finds {a} with a stripe and {b} without.|with a stripe|without a stripe
        {who} puts {a} with the clean ones and {b} with the muddy ones.|with the clean ones|with the muddy ones
        {who} puts {a} on the first step and {b} on the second.|on the first step|on the second step
        {who} hides {a} behind the door and {b} behind the curtain.|behind the door|behind the curtain
        {who} keeps {a} in the shed and {b} in the cellar.|in the shed|in the cellar
        {who} hangs {a} on the tree and {b} on the fence.|on the tree|on the fence
        {who} takes {a} out of the water and leaves {b} in it.|out of the water|in the water
        {who} lays {a} with the round ones and {b} with the others.|with the round ones|with the others
        {who} brings {a} from the woods and {b} from the beach.|from the woods|from the beach
        {who} lends {a} to {other} and keeps {b}.|with {other}|with {who}
        {who} stands {a} up and lays {b} down.|standing|lying
        {who} puts {a} near the window and {b} near the stove.|near the window|near the stove
        {who} counts {a} before lunch and {b} after lunch.|counted before lunch|counted after lunch
        {who} wraps {a} in paper and {b} in cloth.|in paper|in cloth
        {who} puts {a} on top of the wall and {b} at its foot.|on top|at the foot
        {who} has {a} in the boat and {b} on the shore.|in the boat|on the shore
        {who} puts {a} in the middle and {b} around the edge.|in the middle|around the edge
        {who} pours {a} into the cup and {b} into the bowl.|in the cup|in the bowl
        {who} sorts {a} into the light heap and {b} into the dark heap.|in the light heap|in the dark heap
        {who} drops {a} into the bucket and misses with {b}.|in the bucket|beside the bucket
        """);

    /// <summary>What one does and what the other does, and the doing word by itself and with somebody.</summary>
    public static IReadOnlyList<string[]> Comparing { get; } = Read("""
        {who} finds {a}.|{other} finds {b}.|find|finds
        {who} has {a}.|{other} has {b}.|have|has
        {who} collects {a}.|{other} collects {b}.|collect|collects
        {who} carries {a}.|{other} carries {b}.|carry|carries
        {who} wins {a}.|{other} wins {b}.|win|wins
        {who} counts {a}.|{other} counts {b}.|count|counts
        {who} brings {a}.|{other} brings {b}.|bring|brings
        {who} draws {a}.|{other} draws {b}.|draw|draws
        {who} builds with {a}.|{other} builds with {b}.|use|uses
        {who} washes {a}.|{other} washes {b}.|wash|washes
        {who} picks up {a}.|{other} picks up {b}.|pick up|picks up
        {who} takes {a}.|{other} takes {b}.|take|takes
        {who} hides {a}.|{other} hides {b}.|hide|hides
        {who} sells {a}.|{other} sells {b}.|sell|sells
        {who} buys {a}.|{other} buys {b}.|buy|buys
        {who} threads {a}.|{other} threads {b}.|thread|threads
        {who} catches {a}.|{other} catches {b}.|catch|catches
        {who} throws {a} into the bucket.|{other} throws {b} into it.|throw in|throws in
        {who} keeps {a}.|{other} keeps {b}.|keep|keeps
        {who} gets {a}.|{other} gets {b}.|get|gets
        {who} packs {a}.|{other} packs {b}.|pack|packs
        {who} sorts {a}.|{other} sorts {b}.|sort|sorts
        {who} digs out {a}.|{other} digs out {b}.|dig out|digs out
        {who} stacks {a}.|{other} stacks {b}.|stack|stacks
        {who} polishes {a}.|{other} polishes {b}.|polish|polishes
        {who} paints {a}.|{other} paints {b}.|paint|paints
        {who} fetches {a}.|{other} fetches {b}.|fetch|fetches
        {who} lays out {a}.|{other} lays out {b}.|lay out|lays out
        {who} holds {a}.|{other} holds {b}.|hold|holds
        {who} sees {a} on the way.|{other} sees {b}.|see|sees
        {who} needs {a} for the wall.|{other} needs {b} for the tower.|need|needs
        {who} rolls {a} down the slope.|{other} rolls down {b}.|roll down|rolls down
        {who} wraps up {a}.|{other} wraps up {b}.|wrap up|wraps up
        {who} drops {a}.|{other} drops {b}.|drop|drops
        {who} floats {a} in the bath.|{other} floats {b}.|float|floats
        {who} swaps {a}.|{other} swaps {b}.|swap|swaps
        {who} borrows {a}.|{other} borrows {b}.|borrow|borrows
        {who} tidies away {a}.|{other} tidies away {b}.|tidy away|tidies away
        {who} loads up {a}.|{other} loads up {b}.|load up|loads up
        {who} gives away {a}.|{other} gives away {b}.|give away|gives away
        """);

    private static IReadOnlyList<string[]> Read(string scenes) => [.. scenes.Split('\n').Select(line => line.Split('|'))];
}
