"""What results teach, steered by hand: strands in a photo, the page of what was learned, a tube that is out."""

from playwright.sync_api import expect

from studio.demo.season import load_season
from studio.head.models import Bowl
from studio.learning.services.learn import learn_anew
from studio.shelf.list_in import read_list
from studio.shelf.models import Shade, ShadeLine
from studio.shelf.services.holding import line_changed
from studio.shelf.services.own_tubes import take_list
from studio.taught.models import KnowledgeVersion
from tests.engine.made_sheet import photo_of_strands
from tests.journeys.base import JourneyCase
from tests.studio.made import let_the_worker_work
from tests.studio.test_tube_readings import STRANDS, look, picture


class Learned(JourneyCase):
    def test_a_card_that_does_not_fit_is_mended_and_forecasts_follow(self) -> None:
        load_season(self.person)
        learn_anew(self.person.studio_id)
        before = KnowledgeVersion.objects.get(in_force=True).after_half
        self.sign_in()
        page = self.page
        page.get_by_role("link", name="Learned", exact=True).click()
        expect(page.get_by_text("half of this studio's forecasts lie within")).to_be_visible()
        expect(page.locator(".learned-plane circle.learned-result")).to_have_count(48)
        self.assert_accessible()
        expect(page.get_by_text("Cochineal was in the bowl, and not Orchil")).to_be_visible()
        page.get_by_role("button", name="So it was: Ottilie Sand").click()
        expect(page.get_by_text("Learning now")).to_be_visible()
        let_the_worker_work()
        expect(page.get_by_text("Learning now")).to_be_hidden()  # the page has asked, and comes anew
        expect(page.get_by_text("Cochineal was in the bowl")).to_be_hidden()
        expect(page.get_by_role("button", name="As on the card: Ottilie Sand")).to_be_visible()
        self.assertLessEqual(KnowledgeVersion.objects.get(in_force=True).after_half, before)

    def test_by_keys_alone_learning_is_stopped_and_begun_again(self) -> None:
        load_season(self.person)
        learn_anew(self.person.studio_id)
        self.sign_in()
        self.page.goto(f"{self.live_server_url}/learned/")
        self.tab_to(lambda each: each["text"] == "Stop learning")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Results do not teach")).to_be_visible()
        self.tab_to(lambda each: each["text"] == "Learn from results")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("wait to be learned from")).to_be_visible()
        let_the_worker_work()
        expect(self.page.get_by_text("half of this studio's forecasts lie within")).to_be_visible()

    def test_strands_in_one_photo_make_a_guessed_tube_known(self) -> None:
        tubes = read_list("Sea Pink\t\t\tpink", letters={}, is_oxidative=False).tubes
        line = self.person.studio.lines.get(kind="direct")
        tube = take_list(self.person, line=line.pk, tubes=tubes).shades.get()
        self.sign_in()
        page = self.page
        page.goto(f"{self.live_server_url}/shelf/tubes/{tube.pk}/strands/")
        page.get_by_role("link", name="All from one photo").click()
        for number, (level, share) in enumerate(STRANDS, start=1):
            page.get_by_label(f"Level of strand {number}").fill(str(level))
            page.get_by_label(f"Share of strand {number}").fill(str(share))
        made = picture(photo_of_strands([look(*each) for each in STRANDS]))
        photo = {"name": "strands.png", "mimeType": "image/png", "buffer": made.read()}
        page.locator("#id_photo").set_input_files(photo)
        page.get_by_role("button", name="Read the photo").click()
        expect(page.locator(".sheet-picture image")).to_be_visible()
        self.assert_accessible()
        page.get_by_role("button", name="Note all 4").click()
        expect(page.get_by_text("From strands")).to_be_visible()
        page.get_by_role("link", name="To the tube").click()
        page.get_by_role("link", name="What it looks like").click()
        self.assert_accessible()
        self.assertEqual(Shade.objects.get(pk=tube.pk).known, "strands")

    def test_a_tube_that_is_out_is_made_from_others_on_a_shelf_of_many_lines(self) -> None:
        lines = [ShadeLine(studio=self.person.studio, name=f"Line {at}", kind="direct", position=9) for at in (1, 2)]
        for line in ShadeLine.objects.bulk_create(lines):
            take_list(self.person, line=line.pk, tubes=read_list("Thrift pink", letters={}, is_oxidative=False).tubes)
        violet = Shade.objects.get(name="Alkanet")
        self.sign_in()
        self.open_bench()
        page = self.page
        page.locator(".rail-row", has_text="Alkanet").click()
        page.locator("#id_grams").fill("6")
        page.keyboard.press("Enter")
        expect(page.locator(".bowl-pours")).to_contain_text("6.0 g Alkanet")
        Shade.objects.filter(pk=violet.pk).update(stock_g=2)
        line_changed(violet.line_id)
        page.reload()
        self.await_bench(page)
        expect(page.locator(".bowl-why")).to_contain_text("Alkanet: 6 g go in, 2 g are left")
        page.get_by_role("link", name="what makes it instead").click()
        expect(page.locator("#panel")).to_contain_text("off on this hair")
        self.assert_accessible()
        page.keyboard.press("1")
        expect(page.get_by_role("link", name="what makes it instead")).to_be_hidden()
        page.locator("#rail-show").select_option("bowl")
        held = Bowl.objects.get(worktop__visit__client__name="Maud Okonjo-Hale").pours.count()
        self.assertLessEqual(page.locator(".rail-row:visible").count(), held + 1)  # and the one that is chosen
        page.locator("#rail-line").select_option(label="Line 2")
        expect(page.locator(".rail-row")).to_have_count(1)
        page.keyboard.press("Escape")
        page.locator("#undo").click()
        expect(page.locator("#rail-line option:checked")).to_have_text("Ropewalk direct")
        expect(page.locator("#rail-show")).to_have_value("bowl")
