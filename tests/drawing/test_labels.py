"""Labels stand where they cover no other."""

import pytest

from yarekeel.drawing.labels import Labels, around, box_of


def covers(a, b) -> bool:
    return a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]


def test_the_first_place_that_is_free_is_taken():
    labels = Labels(400, 200)
    first = labels.spot([(100, 50, "start")], "a label")
    second = labels.spot([(100, 50, "start"), (100, 54, "start"), (100, 90, "start")], "another")
    assert first == (100, 50, "start")
    assert second == (100, 90, "start")
    assert not covers(box_of(first, "a label"), box_of(second, "another"))


def test_twenty_labels_about_one_point_cover_each_other_least_and_stay_inside():
    labels = Labels(300, 200, [(0, 0, 300, 20)])
    boxes = [box_of(labels.spot(around(150, 100, 10.0 + 4 * k), f"n{k}"), f"n{k}") for k in range(8)]
    assert not any(covers(a, b) for k, a in enumerate(boxes) for b in boxes[k + 1 :])
    assert all(b[0] >= 0 and b[2] <= 300 and b[1] >= 0 and b[3] <= 200 for b in boxes)


def test_what_would_be_cut_off_goes_elsewhere():
    labels = Labels(100, 100)
    assert labels.spot([(95, 50, "start"), (90, 50, "end")], "long words")[2] == "end"
    assert labels.text([(5, 50, "start")], "", "x") == ""
    assert 'text-anchor="end"' in labels.text([(90, 80, "end")], "words", "x")
    with pytest.raises(ValueError, match="empty"):
        labels.spot([], "nowhere")
