using System.Globalization;
using System.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>Each kind read back in plain words, each reason with its figures.</summary>
public class WordsTests
{
    [Theory]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "5.00"}, "per": "cart"}""",
        "Gives €5.00 off the order, once"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 12.5}, "per": "unit"}""",
        "Gives 12.5 % off every item"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"all": true}, {"category": "tubes"}]}, "take": {"percent": 5}, "per": "unit"}""",
        "Gives 5 % off every item"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"category": "tubes"}], "out": [{"sku": "T2"}]}, "take": {"percent": 50}, "per": "unit", "pick": "dearest", "maxUnits": 2, "maxDiscount": "9.00"}""",
        "Gives 50 % off the dearest 2 of Inner tubes, without Inner tube (29), at most €9.00"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"brand": "Velt"}, {"tag": "light"}], "priceFrom": "5.00"}, "take": {"price": "4.00"}, "per": "unit"}""",
        "Gives a price of €4.00 for each of Velt or anything tagged light priced €5.00 or more"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"category": "tubes"}], "fullPriceOnly": true}, "take": {"percent": 5}, "per": "unit"}""",
        "Gives 5 % off each of Inner tubes at full price"
    )]
    [InlineData(
        """{"kind": "buyGet", "buy": {"of": {"in": [{"category": "tubes"}]}, "quantity": 2}, "get": {"of": {"in": [{"category": "tubes"}]}, "quantity": 1, "take": {"percent": 100}}, "repeat": "every"}""",
        "Gives for 2 of Inner tubes the cheapest 1 of Inner tubes free, every time it fits"
    )]
    [InlineData(
        """{"kind": "buyGet", "buy": {"of": {"in": [{"all": true}]}, "spend": "50.00"}, "get": {"of": {"in": [{"sku": "T2"}]}, "quantity": 1, "take": {"price": "1.00"}}}""",
        "Gives for €50.00 of anything the cheapest 1 of Inner tube (29) for €1.00, once"
    )]
    [InlineData(
        """{"kind": "buyGet", "buy": {"of": {"in": [{"all": true}]}, "quantity": 1}, "get": {"quantity": 1, "take": {"percent": 50}}, "same": "sku", "repeat": {"atMost": 3}}""",
        "Gives for 1 of anything the cheapest 1 of them of the same item at 50 % off, at most 3 times"
    )]
    [InlineData(
        """{"kind": "buyGet", "buy": {"of": {"in": [{"category": "tubes"}]}}, "get": {"take": {"percent": 100}}, "same": "product", "repeat": {"schedule": [{"buy": 2, "get": 1}, {"buy": 3, "get": 2}]}}""",
        "Gives of Inner tubes of the same product the cheapest free: 1 after 2 and 2 more after 3 more"
    )]
    [InlineData(
        """{"kind": "ladder", "measure": "spend", "of": {"in": [{"all": true}]}, "apply": "all", "steps": [{"from": "50.00", "rewards": [{"kind": "shipping", "take": {"percent": 100}}]}, {"from": "80.00", "rewards": [{"kind": "points", "fixed": 5}]}]}""",
        "Gives from €50.00: free delivery; from €80.00: 5 points (each step reached counts)"
    )]
    [InlineData(
        """{"kind": "bundle", "slots": [{"of": {"in": [{"sku": "T1"}]}, "quantity": 2}, {"of": {"in": [{"all": true}]}, "quantity": 1}], "take": {"price": "15.00"}, "fill": "cheapest"}""",
        "Gives the set of 2 of Inner tube (28) and 1 of anything for €15.00 together, once, filled with the cheapest"
    )]
    [InlineData(
        """{"kind": "gift", "give": {"skus": ["T1", "T2"]}, "times": {"per": {"of": {"in": [{"all": true}]}, "spend": "30.00"}}, "atMost": 2}""",
        "Gives 1 Inner tube (28) or Inner tube (29) to pick free for every €30.00, at most 2 times"
    )]
    [InlineData(
        """{"kind": "gift", "give": {"sameAs": {"in": [{"category": "tubes"}]}}}""",
        "Gives 1 more of the same free for every 1 of one item of Inner tubes"
    )]
    [InlineData(
        """{"kind": "markdown", "levels": [{"on": {"in": [{"category": "tubes"}]}, "take": {"percent": 20}}]}""",
        "Gives lower prices: Inner tubes at 20 % off"
    )]
    [InlineData("""{"kind": "shipping", "methods": ["parcel"], "take": {"amount": "2.00"}}""", "Gives €2.00 off delivery by Parcel")]
    [InlineData("""{"kind": "points", "each": "10.00", "points": 2}""", "Gives 2 points for every €10.00")]
    [InlineData("""{"kind": "credit", "amount": "20.00", "keepRest": false}""", "Gives €20.00 of credit; what is left lapses")]
    public void A_reward_is_said_in_plain_words(string reward, string expected) =>
        Assert.Equal(expected, Clause("gives", $"\"rewards\": [{reward}]"));

    [Theory]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"category": "tubes"}]}, "take": {"amount": "5.00"}, "per": "unit"}""",
        "€5.00 off each of Inner tubes",
        "5,00 € Rabatt je Stück"
    )]
    [InlineData(
        """{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "5.00"}, "per": "cart"}""",
        "€5.00 off the order, once",
        "5,00 € Rabatt"
    )]
    [InlineData("""{"kind": "shipping", "take": {"percent": 100}}""", "Free delivery", "Kostenlose Lieferung")]
    [InlineData("""{"kind": "points", "each": "10.00", "points": 2}""", "2 points for every €10.00", "Punkte")]
    public void What_is_given_is_announced_in_both_languages(string reward, string english, string german)
    {
        var read = Read($"\"rewards\": [{reward}]");
        string In(string language, string culture) =>
            new Wording(read.Index, read.Store.Currency, CultureInfo.GetCultureInfo(culture))
                .InLanguage(language)
                .Announce(read.Promotions[0])
                .Replace('\u00a0', ' ');
        Assert.Equal((english, german), (In("en", "en-GB"), In("de", "de-DE")));
    }

    [Theory]
    [InlineData("starts", "\"trigger\": {\"codes\": [\"ride10\", \"b\"]}", "Starts by the code RIDE10 or B")]
    [InlineData("starts", "\"trigger\": {\"codes\": [\"a\", \"b\", \"c\"]}", "Starts by the code A, B or C")]
    [InlineData("starts", "\"trigger\": {\"codes\": [\"a\", \"b\", \"c\", \"d\"]}", "Starts by the code A, B or C and 1 more")]
    [InlineData(
        "for",
        "\"when\": {\"all\": [{\"shopper\": {\"groups\": [\"trade\"]}}, {\"destination\": {\"in\": [\"DE\", \"AT\"], \"out\": [\"DE-BE\"]}}]}",
        "For the group trade, carts to Germany or Austria without DE-BE (Germany)"
    )]
    [InlineData("for", "\"when\": {\"none\": [{\"shopper\": {\"is\": \"guest\"}}]}", "For not guests")]
    [InlineData(
        "when",
        "\"when\": {\"all\": [{\"quantity\": {\"of\": {\"in\": [{\"category\": \"tubes\"}]}, \"op\": \">\", \"n\": 2}}, {\"any\": [{\"spend\": {\"from\": \"5.00\", \"to\": \"9.00\"}}, {\"weight\": {\"op\": \"<=\", \"grams\": 900}}]}]}",
        "When the cart holds more than 2 of Inner tubes and (the cart comes to €5.00 to €9.00 or the cart weighs at most 900 g)"
    )]
    [InlineData(
        "when",
        "\"when\": {\"spend\": {\"from\": \"5.00\", \"basis\": \"after\"}}",
        "When the cart comes to at least €5.00 after other promotions"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-03-05T17:00\", \"graceMinutes\": 5, \"repeat\": \"FREQ=WEEKLY\", \"lasts\": \"PT4H\"}",
        "Runs from 5 Mar 2027, 17:00, every Friday for 4 hours, 5 min grace"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-03-06T10:00\", \"repeat\": \"FREQ=MONTHLY;BYDAY=1SA\", \"lasts\": \"P1D\"}",
        "Runs from 6 Mar 2027, 10:00, the first Saturday of every month for 1 day"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-03-05T12:00\", \"repeat\": \"FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR;COUNT=9\", \"lasts\": \"PT2H\"}",
        "Runs from 5 Mar 2027, 12:00, every day from Monday to Friday, 9 times in all for 2 hours"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-03-31T08:00\", \"repeat\": \"FREQ=MONTHLY;INTERVAL=2;BYMONTHDAY=-1\", \"lasts\": \"PT1H\"}",
        "Runs from 31 Mar 2027, 08:00, on the last day of every 2 months for 1 hour"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-06-05T08:00\", \"repeat\": \"FREQ=YEARLY;BYMONTH=6\", \"lasts\": \"P1D\"}",
        "Runs from 5 Jun 2027, 08:00, every year on 5 June for 1 day"
    )]
    [InlineData(
        "runs",
        "\"window\": {\"start\": \"2027-02-14T00:00\", \"repeat\": \"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=14,-1\", \"lasts\": \"P1D\"}",
        "Runs from 14 Feb 2027, 00:00, every year on 14 February and the last day of February for 1 day"
    )]
    [InlineData(
        "until",
        "\"limits\": {\"total\": 500, \"perShopper\": 1, \"perDay\": 20, \"budget\": \"900.00\"}",
        "Until 500 uses, 1 for each shopper, 20 a day, €900.00 given"
    )]
    [InlineData(
        "alongside",
        "\"stacking\": {\"allow\": \"except\", \"with\": [\"pass:shipping\", \"promotion:p\"]}",
        "Alongside anything but what takes from delivery or p"
    )]
    [InlineData("alongside", "\"stacking\": {\"family\": \"season\"}", "Alongside anything, of the family season")]
    [InlineData(
        "says",
        "\"says\": {\"near\": \"Nearly\", \"refused\": {\"en\": \"Sorry\", \"de\": \"Leider\"}}",
        "Says “Nearly” when near, “Sorry” or “Leider” when refused"
    )]
    [InlineData("says", "\"says\": {\"show\": [\"item\", \"basket\"]}", "Is shown beside its items and in the basket")]
    [InlineData(
        "says",
        "\"says\": {\"reached\": \"Done\", \"show\": [\"today\"]}",
        "Says “Done” when reached, shown among the offers of today"
    )]
    public void A_clause_is_said_in_plain_words(string name, string member, string expected) =>
        Assert.Equal(expected, Clause(name, member + ", \"rewards\": [{\"kind\": \"shipping\", \"take\": {\"amount\": \"1.00\"}}]"));

    [Fact]
    public void What_is_so_anyway_is_no_part_of_the_sentence()
    {
        var read = Read("\"rewards\": [{\"kind\": \"shipping\", \"take\": {\"percent\": 100}}]");
        var clauses = Sentence.Clauses(read.Promotions[0], new Wording(read.Index, read.Store.Currency));
        Assert.Equal(
            ["starts", "for", "when", "runs", "until", "alongside"],
            clauses.Where(clause => clause.Quiet).Select(clause => clause.Name)
        );
    }

    [Theory]
    [InlineData("\"when\": {\"spend\": {\"from\": \"50.00\"}}", "€29.30 short of €50.00.", "Add €29.30 more.")]
    [InlineData(
        "\"when\": {\"quantity\": {\"of\": {\"in\": [{\"sku\": \"T2\"}]}, \"op\": \">=\", \"n\": 2}}",
        "Has no items of Inner tube (29), needs at least 2.",
        "Add 2 more of Inner tube (29)."
    )]
    [InlineData("\"when\": {\"quantity\": {\"op\": \">\", \"n\": 3}}", "Has 3 items, needs more than 3.", "Add 1 more item.")]
    [InlineData("\"when\": {\"quantity\": {\"op\": \"<\", \"n\": 3}}", "Has 3 items, needs fewer than 3.", "Not for this cart.")]
    [InlineData(
        "\"when\": {\"distinct\": {\"of\": {\"in\": [{\"category\": \"tubes\"}]}, \"op\": \">=\", \"n\": 2}}",
        "Has 1 different item of Inner tubes, needs at least 2.",
        "Add 1 other item of Inner tubes."
    )]
    [InlineData(
        "\"when\": {\"spend\": {\"of\": {\"in\": [{\"sku\": \"T2\"}]}, \"from\": \"9.00\"}}",
        "€9.00 short of €9.00 of Inner tube (29).",
        "Add €9.00 more of Inner tube (29)."
    )]
    [InlineData("\"when\": {\"spend\": {\"to\": \"20.00\"}}", "€0.70 over €20.00.", "Only up to €20.00.")]
    [InlineData("\"when\": {\"weight\": {\"op\": \">\", \"grams\": 100}}", "Weighs 0 g, needs more than 100 g.", "Not for this weight.")]
    [InlineData("\"when\": {\"channel\": [\"shop\"]}", "Is for the channel shop.", "Not for this kind of order.")]
    [InlineData("\"when\": {\"currency\": [\"USD\"]}", "Is for carts paid in USD.", "Not for this kind of order.")]
    [InlineData(
        "\"when\": {\"all\": [{\"quantity\": {\"op\": \">=\", \"n\": 4}}, {\"channel\": [\"shop\"]}]}",
        "Has 3 items, needs at least 4; is for the channel shop.",
        "Not for this cart yet."
    )]
    [InlineData(
        "\"when\": {\"all\": [{\"spend\": {\"from\": \"20.70\", \"to\": \"20.70\"}}, {\"channel\": [\"shop\"]}]}",
        "Is for the channel shop.",
        "Not for this kind of order."
    )]
    [InlineData("\"when\": {\"none\": [{\"channel\": [\"web\"]}]}", "Is not for the channel web.", "Not for this cart.")]
    [InlineData(
        "\"window\": {\"start\": \"2027-03-01T18:00\", \"repeat\": \"FREQ=DAILY\", \"lasts\": \"PT1H\"}",
        "Opens again in 8 hours, on 5 Mar 2027, 18:00.",
        "Back on 5 Mar 2027, 18:00."
    )]
    [InlineData("\"when\": {\"shopper\": {\"groups\": [\"trade\"]}}", "Is for the group trade.", "Not for this account.")]
    [InlineData("\"when\": {\"destination\": {\"in\": [\"AT\"]}}", "Is for carts to Austria.", "Not for this destination.")]
    [InlineData(
        "\"when\": {\"only\": {\"in\": [{\"sku\": \"T2\"}]}}",
        "The cart holds other things than Inner tube (29).",
        "Not for this cart."
    )]
    [InlineData("\"window\": {\"start\": \"2027-03-08T10:00\"}", "Starts in 3 days, on 8 Mar 2027, 10:00.", "Starts on 8 Mar 2027, 10:00.")]
    [InlineData("\"window\": {\"end\": \"2027-03-05T08:00\"}", "Ended 2 hours ago, on 5 Mar 2027, 08:00.", "This offer has ended.")]
    [InlineData("\"trigger\": {\"codes\": [\"X\"]}", "Its code is not in the cart.", "Enter the code.")]
    [InlineData("\"limits\": {\"total\": 0}", "Used by 0 of 0 orders.", "This offer is used up.")]
    public void A_reason_is_said_with_its_figures_and_shorter_to_the_shopper(string member, string merchant, string shopper)
    {
        var read = Read(member + ", \"rewards\": [{\"kind\": \"points\", \"fixed\": 1}]");
        var priced = read.Price();
        var wording = new Wording(priced.Catalogue, priced.Currency, CultureInfo.GetCultureInfo("en-GB"));
        Assert.Equal(
            (merchant, shopper),
            (wording.Say(priced.Outcomes[0].Reason!, read.Cart.At), wording.Tell(priced.Outcomes[0].Reason!))
        );
    }

    [Theory]
    [InlineData(1, null, true, "Cannot meet a, which goes first by rank.")]
    [InlineData(2, null, true, "Cannot meet a and b, which go first by rank.")]
    [InlineData(1, 150L, false, "Cannot meet a, which saves €1.50 more.")]
    [InlineData(2, 150L, false, "Cannot meet a and b, which save €1.50 more.")]
    [InlineData(1, 0L, false, "Cannot meet a; with it in its place it would come to the same.")]
    [InlineData(2, 0L, false, "Cannot meet a and b; with it in their place it would come to the same.")]
    [InlineData(1, null, false, "Cannot meet a.")]
    public void What_it_cannot_meet_is_said_of_one_and_of_many(int count, long? more, bool byRank, string said)
    {
        var read = Read("\"rewards\": [{\"kind\": \"points\", \"fixed\": 1}]");
        Promotion[] others = [read.Promotions[0] with { Id = "a" }, read.Promotions[0] with { Id = "b" }];
        Assert.Equal(
            said,
            new Wording(read.Index, read.Store.Currency, CultureInfo.GetCultureInfo("en-GB")).Say(
                new Reason.CannotMeet([.. others.Take(count)], more, byRank),
                read.Cart.At
            )
        );
    }

    [Fact]
    public void A_nudge_says_what_is_missing_and_what_it_would_bring()
    {
        var priced = Read(
                "\"label\": \"Three together\", \"when\": {\"quantity\": {\"op\": \">=\", \"n\": 5}}, \"rewards\": [{\"kind\": \"shipping\", \"take\": {\"percent\": 100}}]"
            )
            .Price();
        var wording = new Wording(priced.Catalogue, priced.Currency, CultureInfo.GetCultureInfo("en-GB"));
        var nudge = Assert.Single(priced.Nudges);
        Assert.Equal(
            ("2 more items bring free delivery and save €4.90.", "Add 2 more items: Three together."),
            (wording.Say(nudge), wording.Tell(nudge))
        );
        Assert.Equal("2 more items bring free delivery.", wording.Say(nudge with { Saves = 0 }));
        // A day as people write it where a language is known, else as machines do.
        Assert.Equal(
            ("1 Mar 2027", "2027-03-01"),
            (
                wording.Say(new NodaTime.LocalDate(2027, 3, 1)),
                new Wording(priced.Catalogue, priced.Currency).Say(new NodaTime.LocalDate(2027, 3, 1))
            )
        );
    }

    private static string Clause(string name, string members)
    {
        var read = Read(members);
        var wording = new Wording(CatalogueIndex.Of(read.Store, read.Catalogue), read.Store.Currency, CultureInfo.GetCultureInfo("en-GB"));
        var clause = Sentence.Clauses(read.Promotions[0], wording).Single(clause => clause.Name == name);
        // Only what is so anyway is left out of the sentence.
        Assert.Contains(clause.Text, Sentence.Say(read.Promotions[0], wording));
        return clause.Text.Replace('\u00a0', ' ');
    }

    private static Case Read(string members)
    {
        var reading = CaseReader.Read(
            Encoding.UTF8.GetBytes(
                """
                {"store": {"currency": "EUR", "timeZone": "Europe/Berlin", "families": [{"name": "season"}], "shipping": [{"id": "parcel", "name": "Parcel", "price": "4.90"}]},
                 "catalogue": {"categories": [{"id": "tubes", "name": "Inner tubes"}], "products": [{"id": "tube", "name": "Inner tube", "category": "tubes", "brand": "Velt", "tags": ["light"],
                   "variants": [{"sku": "T1", "options": {"size": "28"}, "regular": "6.90"}, {"sku": "T2", "options": {"size": "29"}, "regular": "7.50"}]}]},
                 "cart": {"at": "2027-03-05T10:00:00+01:00", "destination": "DE", "method": "parcel", "lines": [{"sku": "T1", "quantity": 3}]},
                 "promotions": [{"id": "p",
                """
                    + members
                    + "}]}"
            )
        );
        Assert.Empty(reading.Problems);
        return reading.Value!;
    }
}
