"""Variations of a session: gentler days, skips, pauses, stops, and sessions in the clinic."""

from playwright.sync_api import expect

from reedcore.dose.session_time import DAY_VOICED_CAP_S
from reedcore.dose.today import gentler_s
from tests.browser.conftest import (
    CHROMIUM,
    FETCH_VOICES,
    QUIET,
    SOURCE,
    at,
    open_more,
    open_player,
    programme,
    report_problem,
    result,
    sign_in,
    the_trial,
    through,
    to_first_task,
    until,
)
from tests.factories import item, trial
from web.clients.actions import add_helper
from web.record.models import SelfReport, Session, Trial
from web.screening.models import Stop


def test_three_presses_from_the_link_to_the_first_sound(page, site, person, short_one):
    open_player(page, site, person.account)
    for screen, key in (("today", "1"), ("safety", "Space"), ("task", "Space")):
        at(page, screen)
        page.keyboard.press(key)
    at(page, "try")
    expect(page.get_by_role("status")).to_contain_text("Now. It stops when you stop.")


def test_hoarse_is_gentler_and_never_loud(page, site, person, short_one):
    open_player(page, site, person.account)
    to_first_task(page, voice="3")
    page.keyboard.press("Space")
    at(page, "try")
    # Any other day asks for one and a half seconds.
    drawing = page.get_by_role("img", name="The target is 1 seconds")
    expect(drawing).to_contain_text("1 s, your target")
    expect(page.get_by_text("gentler today: 1 s")).to_be_visible()
    said = through(page, page.keyboard.press)
    # The straw twice, no loud work, and the cool-down.
    assert len(said) == 3
    assert not Trial.objects.filter(task__task_code="strong_ah").exists()
    assert Session.objects.get().day == "gentler"
    asked = Trial.objects.select_related("task")
    held = [each for each in asked if each.task.target_s]
    assert held
    assert all(each.set_s == gentler_s(each.task.target_s) for each in held)


def test_a_day_holds_so_much_voice_and_the_session_then_offers_its_end(
    page, site, person, short_one
):
    held = short_one.tasks.get(task_code="straw_hold")
    trial(held, figures={"load_s": DAY_VOICED_CAP_S - 1.0})
    open_player(page, site, person.account)
    to_first_task(page)
    through(page, page.keyboard.press, until="enough")
    at(page, "enough")
    page.get_by_role("button", name="End session").click()
    through(page, page.keyboard.press)
    at(page, "done")
    expect(page.get_by_text("Your voice has done enough for today.")).to_be_visible()
    expect(page.get_by_role("button", name="Extra practice")).to_have_count(0)
    expect(page.get_by_text("all sent")).to_be_visible()
    ended = Session.objects.get()
    assert (ended.ending, ended.items_done) == ("done", 1)
    page.reload()
    at(page, "today")
    expect(
        page.get_by_text("You have used your voice enough today. Rest it until tomorrow.")
    ).to_be_visible()
    expect(page.get_by_role("button", name="30 seconds extra")).to_have_count(0)


def test_ill_is_a_rest_day(page, site, person, short_one):
    open_player(page, site, person.account)
    at(page, "today")
    page.keyboard.press("4")
    at(page, "rest")
    expect(page.get_by_text("Today does not count as missed.")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Session.objects.get().day == "rest"


def test_a_session_names_its_helper_and_nothing_without_one(browser, site, person, short_one):
    helper = add_helper(person, name="Ana", relation="daughter")
    for account, who in ((helper.account, helper), (person.account, None)):
        page, sent = browser.new_context().new_page(), []
        page.on("request", lambda each, sent=sent: sent.append(each.post_data_buffer or b""))
        open_player(page, site, account)
        at(page, "today")
        page.keyboard.press("4")
        at(page, "rest")
        expect(page.get_by_text("all sent")).to_be_visible()
        kept = Session.objects.order_by("-received_at").first()
        assert kept.helper == who
        # The previous version, which may serve at the same time, does not have this value.
        assert any(b"helper" in each for each in sent) == (who is not None)
        page.context.close()


def test_strain_ends_loud_work_for_the_day(page, site, person, clinician):
    programme(
        person, clinician,
        item("strong_ah", params={"seconds": 2, "reps": 1}, sip=False),
        item("strong_oh", params={"seconds": 2, "reps": 1}, sip=False),
        item("quiet_minute"),
    )  # fmt: skip
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    result(page)
    page.keyboard.press("Space")
    at(page, "effort")
    page.keyboard.press("8")
    at(page, "strain")
    page.keyboard.press("y")
    at(page, "where")
    page.keyboard.press("1")
    expect(page.get_by_role("heading", name="One minute quiet")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert SelfReport.objects.get(kind="strain").value == {"said": True, "where": "throat"}


def test_skip_asks_why_and_pause_keeps_the_place(page, site, person, short_one, settings):
    settings.REFERENCE_TONE_S = 10  # Skip takes no key while the microphone listens.
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("p")
    at(page, "pause")
    page.keyboard.press("Space")
    at(page, "try")  # Continue with the task, not with its introduction.
    page.keyboard.press("k")
    at(page, "skip")
    page.keyboard.press("1")
    expect(page.get_by_role("heading", name="Strong “ah”")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert SelfReport.objects.get(kind="skipped").value == "cant"
    assert not Trial.objects.exists()


def test_again_makes_one_trial_more(page, site, person, short_one):
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    result(page)
    page.keyboard.press("r")
    page.locator("[data-result]").wait_for(state="detached")
    result(page)
    expect(page.get_by_text("2 tries sent")).to_be_visible()
    assert Trial.objects.count() == 2


def test_a_stop_shows_what_to_do_and_pauses_the_device(page, line, person, short_one):
    open_player(page, line.site, person.account)
    to_first_task(page)
    line.down()
    page.keyboard.press("s")
    at(page, "stop")
    expect(page.get_by_text("This session is not watched.")).to_be_visible()
    page.get_by_role("button", name="trouble breathing").click()
    at(page, "confirm")
    # The advice does not wait for the second press.
    expect(page.get_by_role("heading", name="You need help now. Call 112")).to_be_visible()
    page.keyboard.press("y")
    at(page, "advice")
    expect(
        page.get_by_text(
            "The clinic does not have it yet. This device keeps trying to send it. If it is urgent, call the clinic."
        )
    ).to_be_visible()
    assert not Stop.objects.exists()
    line.up()
    expect(page.get_by_text("The clinic has received it.")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    stop = Stop.objects.get()
    assert stop.flags == ["breathing"]
    expect(page.get_by_text("all sent")).to_be_visible()
    page.goto(f"{line.site}/practice/")
    expect(page.get_by_role("heading", name="Your practice is paused")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Session.objects.get().ending == Session.Ending.STOPPED


def test_stop_stays_in_reach_whatever_is_on_the_screen(page, site, person, short_one):
    open_player(page, site, person.account)
    to_first_task(page)
    for _ in range(3):
        page.keyboard.press("s")
        at(page, "stop")
    page.keyboard.press("0")
    at(page, "done")
    page.keyboard.press("s")
    at(page, "stop")
    report_problem(page, "light-headed")
    expect(page.get_by_text("The clinic has received it.")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Stop.objects.get().flags == ["light_headed"]


def test_signed_out_in_the_middle_of_a_hold_keeps_the_sound(page, site, person, short_one):
    open_player(page, site, person.account)
    to_first_task(page)
    page.evaluate(FETCH_VOICES, [[short_one.tasks.first().pk]])
    page.context.clear_cookies()
    page.keyboard.press("Space")
    expect(page.get_by_role("status")).to_contain_text("saved here")
    assert "saved here" in result(page)
    expect(page.get_by_role("link", name="Sign in again")).to_be_visible()
    sign_in(page.context, site, person.account)
    page.goto(f"{site}/practice/")
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    assert the_trial().total_s > 1.0


def test_a_flag_before_the_first_sound_ends_it_there(page, site, person, short_one):
    open_player(page, site, person.account)
    at(page, "today")
    page.keyboard.press("1")
    at(page, "safety")
    report_problem(page, "streaks of blood")
    expect(page.get_by_role("heading", name="Do not use your voice for practice.")).to_be_visible()
    expect(page.get_by_text("all sent")).to_be_visible()
    assert Stop.objects.get().pauses


def test_with_the_clinician_in_the_room(page, site, clinician, person, task):
    page.add_init_script(SOURCE.format("simulated"))
    sign_in(page.context, site, clinician)
    page.goto(f"{site}/practice/in-clinic/{person.pk}/")
    to_first_task(page)
    page.locator("[data-target]").fill("3")
    page.get_by_role("button", name="Begin").click()
    assert "target 3 s." in result(page)
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    trial = the_trial()
    assert trial.session.place == Session.Place.CLINIC
    assert trial.set_s == 3.0


def test_either_of_two_tasks_and_a_word_about_it(page, site, person, clinician):
    programme(
        person, clinician,
        item("straw_hold", params={"seconds": 1.5, "reps": 1}, **{"or": "hum_hold"}),
    )  # fmt: skip
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("i")
    expect(page.get_by_role("heading", name="Hum, one note")).to_be_visible()
    page.keyboard.press("p")
    at(page, "pause")
    page.keyboard.press("Space")
    result(page)
    open_more(page)
    page.get_by_label("Comment on this task").fill("Easier than the straw.")
    page.get_by_role("button", name="Save comment").click()
    expect(page.get_by_text("Your comment is saved.")).to_be_visible()
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    assert the_trial().task.task_code == "hum_hold"
    comment = SelfReport.objects.get(kind="comment")
    assert (comment.value, comment.task.task_code) == ("Easier than the straw.", "hum_hold")


def test_the_mirror_is_the_devices_own_camera_and_goes_nowhere(playwright, site, person, clinician):
    programme(person, clinician, item("lips_stretch", params={"reps": 2}))
    browser = playwright.chromium.launch(
        executable_path=CHROMIUM,
        args=[*QUIET, "--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"],
    )
    page = open_player(browser.new_context(permissions=["camera"]).new_page(), site, person.account)
    to_first_task(page)
    sent = []
    page.on("request", lambda request: sent.append(request.url))
    page.get_by_role("button", name="Use the camera as a mirror").click()
    glass = page.locator("video")
    expect(glass).to_be_visible()
    page.wait_for_function("() => document.querySelector('video').videoWidth > 0")
    assert sent == []
    page.keyboard.press("Escape")
    page.locator("[data-go]").click()
    at(page, "reps")
    assert page.evaluate("document.querySelector('video')") is None
    browser.close()


def test_feedback_switched_off_shows_neither_reed_nor_figures(page, site, person, clinician):
    programme(
        person, clinician,
        item("hum_hold", params={"seconds": 1.5, "reps": 1}, feedback="none"),
    )  # fmt: skip
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    at(page, "try")
    expect(page.locator("svg.reeds").first).to_be_hidden()
    assert result(page) == "Saved."
    expect(page.locator("svg.reeds").first).to_be_hidden()
    expect(page.get_by_text("1 try sent · all sent")).to_be_visible()
    assert the_trial().total_s > 1.0


def test_a_contrast_pair_is_two_labelled_trials_shown_together(page, site, person, clinician):
    programme(
        person, clinician,
        item("hum_hold", params={"seconds": 1.5, "reps": 1}, contrast=True),
    )  # fmt: skip
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    expect(page.locator("[data-progress]")).to_contain_text("on purpose not so well")
    result(page)
    page.keyboard.press("Space")
    expect(page.locator("[data-progress]")).to_contain_text("now well")
    expect(page.locator("[data-sentence]")).to_have_count(2)
    expect(page.get_by_text("2 tries sent · all sent")).to_be_visible()
    assert list(Trial.objects.values_list("role", flat=True)) == ["poor", "good"]


def test_a_level_is_judged_after_three_comfortable_vowels_here(page, site, person, clinician):
    programme(
        person, clinician,
        item("hum_hold", params={"seconds": 1.5, "reps": 1}, floor=-6.0, ceiling=6.0),
    )  # fmt: skip
    open_player(page, site, person.account)
    at(page, "today")
    page.keyboard.press("1")
    at(page, "safety")
    page.keyboard.press("Space")
    at(page, "reference")
    page.keyboard.press("Space")
    at(page, "task")
    assert person.reference_vowels.count() == 3
    page.keyboard.press("Space")
    expect(page.locator("[data-live-head].head-full:visible")).to_have_count(1)
    assert "level in range" in result(page)
    expect(page.locator("svg.reeds .head-full:visible")).to_have_count(1)
    # A later session on the same device begins with one.
    page.reload()
    at(page, "resume")
    page.keyboard.press("2")
    to_reference = ("today", "1"), ("safety", "Space"), ("reference", "Space")
    for screen, key in to_reference:
        at(page, screen)
        page.keyboard.press(key)
    at(page, "task")
    assert person.reference_vowels.count() == 4


def one_hold(page, site, person, clinician):
    programme(
        person, clinician,
        item("hum_hold", params={"seconds": 1.5, "reps": 1}, notes=[53]),
    )  # fmt: skip
    open_player(page, site, person.account)
    to_first_task(page)
    page.keyboard.press("Space")
    result(page)


def test_a_trial_that_was_another_voice_counts_nowhere_and_is_made_again(
    page, site, person, clinician
):
    one_hold(page, site, person, clinician)
    page.keyboard.press("v")
    at(page, "set_aside")
    expect(page.get_by_text("It stays on record. Your clinician can see it.")).to_be_visible()
    page.keyboard.press("1")
    result(page)
    assert until(lambda: Trial.objects.count() == 2, 60)
    assert until(lambda: Trial.objects.counted().count() == 1, 60)
    assert set(Trial.objects.values_list("set_aside", flat=True)) == {"not_my_voice", ""}


def test_a_wrong_time_is_set_aside_with_its_reason_and_that_is_undone(
    page, site, person, clinician
):
    one_hold(page, site, person, clinician)
    page.keyboard.press("w")
    at(page, "wrong_time")
    page.keyboard.press("2")
    at(page, "set_aside")
    assert until(lambda: Trial.objects.filter(set_aside="counted_long").exists(), 60)
    page.keyboard.press("3")
    at(page, "felt")
    assert until(lambda: Trial.objects.filter(set_aside="").exists(), 60)
    assert the_trial().total_s


def test_an_answer_that_comes_late_reaches_the_screen(page, site, person, clinician, settings):
    settings.ANSWER_WAIT_S = 0.2

    def without_its_answer(line):
        server = line.connect_to_server()
        server.on_message(lambda said: None if '"saved"' in str(said) else line.send(said))

    page.route_web_socket("**/take/", without_its_answer)
    held = []
    page.route(
        "**/practice/entries/",
        lambda route: (
            held.append(route)
            if b'"kind":"sound"' in (route.request.post_data_buffer or b"")
            else route.continue_()
        ),
    )
    one_hold(page, site, person, clinician)
    sentence = page.locator("[data-sentence]").last
    expect(sentence).to_contain_text("It is measured when the clinic receives it.")
    # Playwright handles routes during this call.
    assert until(lambda: (page.evaluate("0"), held)[1], 60)
    held[0].continue_()
    expect(sentence).to_contain_text("target")


def test_a_helper_states_once_who_answers(page, site, person, short_one):
    helper = add_helper(person, name="Ana", relation="daughter")
    open_player(page, site, helper.account)
    at(page, "today")
    page.keyboard.press("1")
    at(page, "who_answers")
    page.keyboard.press("2")
    at(page, "safety")
    said = SelfReport.objects.filter(kind="answered_by", value="helper")
    assert until(lambda: said.count() == 1, 60)
    page.reload()
    at(page, "resume")
    page.keyboard.press("2")
    at(page, "today")
    page.keyboard.press("1")
    at(page, "safety")
    assert until(lambda: said.count() == 2, 60)
