from django.urls import path

from ridgeback.first_setup import views

app_name = "first_setup"
urlpatterns = [
    path("start/", views.begin, name="begin"),
    path("start/discard/", views.discard, name="discard"),
    path("start/<slug:step>/", views.step, name="step"),
    path("start/<slug:step>/draft/", views.draft, name="draft"),
    path("start/<slug:step>/suggest/", views.suggest_again, name="suggest"),
]
