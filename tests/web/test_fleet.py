"""The fleet's page: few queries, whatever the number of motors."""

from demo.big import Size, fill


def test_it_asks_six_times_at_most_whatever_the_number_of_motors(client, store, engine_queries):
    assert "No motor is on act or watch." in client.get("/fleet").text
    with store.begin() as session:
        fill(session, Size(40, 2, 0))
    engine_queries.clear()
    page = client.get("/fleet").text
    assert 0 < len(engine_queries) <= 6
    assert page.count("<tr>") > 10
