from django.urls import path

from ridgeback.practice import views

app_name = "practice"
urlpatterns = [
    path("practice/", views.overview, name="overview"),
    path("practice/begin/", views.begin, name="begin"),
    path("practice/set/", views.case_set, name="set"),
    path("practice/<int:pk>/", views.run, name="run"),
    path("practice/<int:pk>/measure/", views.add_measurement, name="measure"),
    path("practice/<int:pk>/answer/", views.answer, name="answer"),
]
